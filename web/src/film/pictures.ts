/** The pictures of a film, as they are sent to be read: JPEG, cut to the dial, each with its time. */

export interface Picture {
  seconds: number
  jpeg: Blob
}

/** A part of a picture, in its dots. */
export interface Crop {
  x: number
  y: number
  w: number
  h: number
}

/** As many dots as are sent of a side: more read no finer. */
const most = 480
const quality = 0.85

export type Drawn = HTMLVideoElement | ImageBitmap
const widthOf = (from: Drawn) => (from instanceof HTMLVideoElement ? from.videoWidth : from.width)
const heightOf = (from: Drawn) => (from instanceof HTMLVideoElement ? from.videoHeight : from.height)

/** All of a picture. */
export const whole = (from: Drawn): Crop => ({ x: 0, y: 0, w: widthOf(from), h: heightOf(from) })

/** By what a crop is made smaller when it is sent. */
export const shrinkOf = (crop: Crop, to = most) => Math.min(1, to / Math.max(crop.w, crop.h))

/** What is round a dial, of marks that are so far from its axis. */
export function cropAbout([x, y]: [number, number], radius: number, from: Crop): Crop {
  const half = 2.1 * radius
  const left = Math.max(from.x, Math.round(x - half))
  const top = Math.max(from.y, Math.round(y - half))
  return {
    x: left,
    y: top,
    w: Math.min(from.x + from.w, Math.round(x + half)) - left,
    h: Math.min(from.y + from.h, Math.round(y + half)) - top,
  }
}

/** Draws a part of what is shown now. */
export function drawn(from: Drawn, crop: Crop, scale = shrinkOf(crop)): Promise<Blob> {
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(crop.w * scale))
  canvas.height = Math.max(1, Math.round(crop.h * scale))
  const on = canvas.getContext('2d')!
  on.drawImage(from, crop.x, crop.y, crop.w, crop.h, 0, 0, canvas.width, canvas.height)
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('picture'))), 'image/jpeg', quality),
  )
}

/** Cuts a file of JPEG pictures that stand one after the other; undefined where it is none. */
export function jpegsOf(bytes: Uint8Array): Uint8Array[] | undefined {
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) return undefined
  const all: Uint8Array[] = []
  let from = 0
  for (let i = 2; i + 3 < bytes.length; i++) {
    // An end, and behind it a beginning: in a picture neither stands so.
    if (bytes[i] !== 0xff || bytes[i + 1] !== 0xd9 || bytes[i + 2] !== 0xff || bytes[i + 3] !== 0xd8) continue
    all.push(bytes.subarray(from, i + 2))
    from = i + 2
  }
  all.push(bytes.subarray(from))
  return all
}

/** What a video shows, picture by picture, while it plays; ends with it, or when it is told to. */
export async function play(
  video: HTMLVideoElement,
  each: (seconds: number) => Promise<unknown>,
  going: () => boolean,
): Promise<void> {
  let last = -1
  const next = () =>
    new Promise<number | undefined>((resolve) => {
      const ends = () => resolve(undefined)
      if (video.ended) return ends()
      video.addEventListener('ended', ends, { once: true })
      video.requestVideoFrameCallback((_, { mediaTime }) => {
        video.removeEventListener('ended', ends)
        resolve(mediaTime)
      })
    })
  while (going()) {
    const at = await next()
    if (at === undefined) return
    if (at <= last) continue
    last = at
    await each(at)
  }
}
