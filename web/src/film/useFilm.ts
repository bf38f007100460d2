import { computed, ref, shallowRef } from 'vue'
import { api, ask, Refused, type Schemas } from '@/api/client'
import type { PressureUnit } from '@/composables/figure'
import { asForm } from '@/api/form'
import { sayer } from '@/words/say'
import texts from '@/words/en/film.json'
import { shrinkOf, type Crop, type Picture } from './pictures'

const says = sayer(texts)

export type Kind = 'valve' | 'bare' | 'leak-down'
export type Point = [number, number]
/** What is marked on the first picture, in its own dots. */
export interface Marks {
  centre: Point
  points: { at: Point; value: number }[]
  unit: string
}

/** Pictures sent together: few while somebody looks on, more of a file. */
const together = 30
const togetherLive = 4
/** As many pictures of a live camera are kept back, until what was seen in them is known. */
const mostRecent = 40

/** What a film is begun with: whether it is looked at live, and whose dial was marked by hand, to be known again. */
export interface Beginning {
  live?: Kind
  gauge?: string
}

/** How sure a sight has to be to be shown. */
export const believed = 0.5
const at = (seconds: number) => (p: Picture) => Math.abs(p.seconds - seconds) < 0.002

/** A film on its way to be read: begun with its first picture, sent in parts, read at the end. */
export function useFilm(unit: () => PressureUnit) {
  const id = ref('')
  const fault = ref('')
  const sent = ref(0)
  const sd = ref(0)
  const seenIn = ref('')
  const sights = shallowRef<Schemas['FilmSight'][]>([])
  /** The pictures themselves stay here, so that the one of the reading can be kept. */
  const pictures = shallowRef<Picture[]>([])
  /** Of a live camera: the picture in which the needle stood highest since the last reading was kept. */
  let top: { value: number; jpeg: Blob } | undefined
  let recent: Picture[] = []
  let live = false
  let waiting: Picture[] = []
  let going: Promise<unknown> = Promise.resolve()

  function tellOf(e: unknown): string {
    return e instanceof Refused ? e.message : says('no-answer')
  }

  /** Begins with a picture; marks are in dots of the whole picture, and are sent as those of the crop. */
  async function begin(first: Picture, marks: Marks, crop: Crop, how: Beginning = {}): Promise<boolean> {
    await end()
    fault.value = ''
    sent.value = 0
    pictures.value = []
    sights.value = []
    waiting = []
    recent = []
    top = undefined
    live = !!how.live
    const k = shrinkOf(crop)
    const inside = ([x, y]: Point): Point => [(x - crop.x) * k, (y - crop.y) * k]
    const theirs = {
      ...marks,
      centre: inside(marks.centre),
      points: marks.points.map((p) => ({ ...p, at: inside(p.at) })),
    }
    try {
      const fields = { file: first.jpeg, marks: JSON.stringify(theirs), live: how.live ?? '' }
      const form = asForm(how.gauge === undefined ? fields : { ...fields, gauge: how.gauge })
      const begun = await ask(api.POST('/api/dial', form))
      id.value = begun.id ?? ''
      fault.value = begun.refused ?? ''
    } catch (e) {
      fault.value = tellOf(e)
    }
    return id.value !== ''
  }

  async function send(part: Picture[]) {
    if (!part.length || !id.value) return
    const file = new Blob(part.map((p) => p.jpeg))
    const times = JSON.stringify(part.map((p) => p.seconds))
    try {
      const seen = await ask(api.POST('/api/dial/pictures', asForm({ file, id: id.value, times, unit: unit() })))
      sent.value = seen.pictures
      if (seen.refused) fault.value = seen.refused
      if (!seen.sights?.length) return
      sights.value = seen.sights
      sd.value = seen.camera_sd ?? 0
      seenIn.value = seen.unit
      for (const one of seen.sights) {
        const picture = one.sure >= believed && one.value > (top?.value ?? -Infinity) && recent.find(at(one.t))
        if (picture) top = { value: one.value, jpeg: picture.jpeg }
      }
    } catch (e) {
      fault.value = tellOf(e)
    }
  }

  /** Takes a picture; it is sent with those that wait, as soon as the ones before have arrived. */
  function add(picture: Picture) {
    if (live) recent = [...recent, picture].slice(-mostRecent)
    else pictures.value.push(picture)
    waiting.push(picture)
    if (waiting.length < (live ? togetherLive : together)) return going
    const part = waiting
    waiting = []
    going = going.then(() => send(part))
    return going
  }

  async function read(
    engine: string,
    number: number,
    unit: PressureUnit,
    name: string,
    kind?: Kind,
    slower?: number,
  ): Promise<Schemas['FilmFound'] | undefined> {
    const part = waiting
    waiting = []
    await (going = going.then(() => send(part)))
    if (fault.value) return undefined
    try {
      const body = { id: id.value, engine, number, unit, name, kind, slower }
      const found = await ask(api.POST('/api/dial/read', { body }))
      fault.value = found.refused ?? ''
      return found.refused ? undefined : found
    } catch (e) {
      fault.value = tellOf(e)
    }
    return undefined
  }

  async function end() {
    if (id.value) void api.POST('/api/dial/end', { body: { id: id.value } }).catch(() => undefined)
    id.value = ''
  }

  /** The picture of a live camera's reading, once. */
  function takeTop() {
    const jpeg = top?.jpeg
    top = undefined
    return jpeg
  }

  /** Where the marks of a gauge are in a picture, if its dial was marked before and is seen. */
  async function face(file: Blob, gauge: string, tap?: Point): Promise<Schemas['FilmFace'] | undefined> {
    try {
      const form = asForm({ file, gauge, ...(tap ? { tap: JSON.stringify(tap) } : {}) })
      return await ask(api.POST('/api/dial/face', form))
    } catch {
      return undefined // it is marked by hand then
    }
  }

  /** What the needle reads that somebody laid through a place of a picture. */
  async function point(seconds: number, place: Point): Promise<number | undefined> {
    try {
      const body = { id: id.value, t: seconds, at: place, unit: unit() }
      return (await ask(api.POST('/api/dial/point', { body }))).value
    } catch {
      return undefined // the figure can be typed
    }
  }

  /** What a live camera saw last; nothing while that is in another unit than is shown now. */
  const last = computed(() => (seenIn.value === unit() ? sights.value.at(-1) : undefined))
  return { id, fault, sent, sights, sd, last, pictures, begin, add, read, end, takeTop, face, point }
}
