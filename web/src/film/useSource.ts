import { nextTick, onBeforeUnmount, ref, shallowRef, type Ref } from 'vue'
import { base, practice } from '@/api/base'
import { jpegsOf } from './pictures'

/** Where a film comes from: a file that the browser plays, pictures, or a camera; all but pictures is shown by one video. */
export function useSource(video: Ref<HTMLVideoElement | null>) {
  const stills = shallowRef<Blob[]>([])
  const stream = shallowRef<MediaStream>()
  const name = ref('')
  let address = ''

  function forget() {
    if (stream.value || address) video.value?.pause()
    stream.value?.getTracks().forEach((t) => t.stop())
    stream.value = undefined
    if (video.value) video.value.srcObject = null
    if (address) URL.revokeObjectURL(address)
    address = ''
    stills.value = []
  }
  onBeforeUnmount(forget)

  /** Puts something into the video, and waits until it shows a picture. */
  async function watchIn(put: (v: HTMLVideoElement) => void) {
    await nextTick()
    const v = video.value!
    await new Promise<void>((resolve, reject) => {
      v.onloadeddata = () => resolve()
      v.onerror = () => reject(new Error('video'))
      put(v)
    })
  }

  /** Brings the video to a time and waits until that picture is there to be drawn. */
  async function seekTo(seconds: number) {
    const v = video.value!
    const there = new Promise<void>((resolve) => v.requestVideoFrameCallback(() => resolve()))
    const late = new Promise<void>((resolve) => setTimeout(resolve, 1500))
    v.currentTime = seconds + 0.001
    await Promise.race([there, late])
  }

  /** Opens a file; throws where the browser can't show it. */
  async function open(file: File) {
    forget()
    name.value = file.name
    const bytes = file.type.startsWith('video/') ? undefined : new Uint8Array(await file.arrayBuffer())
    const jpegs = bytes && jpegsOf(bytes)
    if (jpegs || file.type.startsWith('image/')) {
      stills.value = jpegs ? jpegs.map((j) => new Blob([j as BlobPart], { type: 'image/jpeg' })) : [file]
      return
    }
    await watchIn((v) => {
      address = URL.createObjectURL(file)
      v.src = address
    })
    await seekTo(0)
  }

  /** Opens the camera; in practice the one that stands before the engine's gauge. */
  async function openCamera(dial: string) {
    forget()
    stream.value = practice ? benchStream(dial) : await navigator.mediaDevices.getUserMedia(wanted)
    await watchIn((v) => (v.srcObject = stream.value!))
    await video.value!.play()
  }

  return { stills, stream, name, open, openCamera, seekTo, forget }
}

const wanted = { video: { facingMode: 'environment', width: { ideal: 1280 }, frameRate: { ideal: 60 } } }

/** What the camera sees that stands before the gauge of an engine that is practised on, picture by picture. */
function benchStream(dial: string): MediaStream {
  const canvas = document.createElement('canvas')
  canvas.width = 480
  canvas.height = 360
  const on = canvas.getContext('2d')!
  const stream = canvas.captureStream()
  void (async () => {
    while (stream.active) {
      const seen = await fetch(`${base}/api/practice-camera?${dial}`).catch(() => undefined)
      if (seen?.ok) on.drawImage(await createImageBitmap(await seen.blob()), 0, 0)
      await new Promise((resolve) => setTimeout(resolve, seen?.ok ? 25 : 500))
    }
  })()
  return stream
}
