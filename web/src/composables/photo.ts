import { ref } from 'vue'
import { base } from '@/api/base'
import { drop, type Outcome } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)
const side = 1600

/** Draws a picture anew, no larger than 1600 px a side: what the camera wrote beside it, such as the place, stays behind. */
export async function small(file: File): Promise<Blob> {
  const image = await createImageBitmap(file)
  const scale = Math.min(1, side / Math.max(image.width, image.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(image.width * scale)
  canvas.height = Math.round(image.height * scale)
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height)
  return await new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error(says('no-picture')))), 'image/jpeg', 0.82),
  )
}

/** Where a picture of the engine itself is to be had. */
export const pictureAddress = (engine: string, key: string) =>
  `${base}/api/engines/${encodeURIComponent(engine)}/photos/${encodeURIComponent(key)}`

/** Where the picture of a test is to be had. */
export const photoAddress = (engine: string, test: string, key: string) =>
  `${base}/api/engines/${encodeURIComponent(engine)}/sessions/${encodeURIComponent(test)}/photos/${key}`

/** Takes the picture that was picked in a field, and says what became of it: on its way, waiting, refused, or none that can be read. */
export function usePicture(enter: (picture: Blob) => Promise<Outcome>, kept: () => unknown = () => undefined) {
  const word = ref('')
  async function take(event: Event) {
    const field = event.target as HTMLInputElement
    const file = field.files?.[0]
    if (!file) return
    word.value = says('making-smaller')
    try {
      const { is, answer, entry } = await enter(await small(file))
      word.value =
        is === 'refused' ? (answer?.why ?? says('not-saved')) : is === 'waiting' ? says('waiting-sent-3') : ''
      if (is === 'refused') await drop(entry.id)
      else await kept()
    } catch {
      word.value = says('picture-cant-read-here')
    }
    field.value = ''
  }
  return { word, take }
}
