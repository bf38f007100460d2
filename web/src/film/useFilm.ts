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

/** A film on its way to be read: begun with its first picture, sent in parts, read at the end. */
export function useFilm() {
  const id = ref('')
  const fault = ref('')
  const sent = ref(0)
  const sights = shallowRef<Schemas['FilmSight'][]>([])
  /** The pictures themselves stay here, so that the one of the reading can be kept. */
  const pictures = shallowRef<Picture[]>([])
  let waiting: Picture[] = []
  let going: Promise<unknown> = Promise.resolve()

  function tellOf(e: unknown): string {
    return e instanceof Refused ? e.message : says('no-answer')
  }

  /** Begins with a picture; marks are in dots of the whole picture, and are sent as those of the crop. */
  async function begin(first: Picture, marks: Marks, crop: Crop, live = ''): Promise<boolean> {
    await end()
    fault.value = ''
    sent.value = 0
    pictures.value = []
    sights.value = []
    waiting = []
    const k = shrinkOf(crop)
    const inside = ([x, y]: Point): Point => [(x - crop.x) * k, (y - crop.y) * k]
    const theirs = {
      ...marks,
      centre: inside(marks.centre),
      points: marks.points.map((p) => ({ ...p, at: inside(p.at) })),
    }
    try {
      const form = asForm({ file: first.jpeg, marks: JSON.stringify(theirs), live })
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
      const seen = await ask(api.POST('/api/dial/pictures', asForm({ file, id: id.value, times })))
      sent.value = seen.pictures
      if (seen.refused) fault.value = seen.refused
      if (seen.sights?.length) sights.value = seen.sights
    } catch (e) {
      fault.value = tellOf(e)
    }
  }

  /** Takes a picture; it is sent with those that wait, as soon as the ones before have arrived. */
  function add(picture: Picture, most = together) {
    if (most === together) pictures.value.push(picture)
    waiting.push(picture)
    if (waiting.length < most) return going
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
  ): Promise<Schemas['FilmFound'] | undefined> {
    const part = waiting
    waiting = []
    await (going = going.then(() => send(part)))
    if (fault.value) return undefined
    try {
      const body = { id: id.value, engine, number, unit, name, kind }
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

  const last = computed(() => sights.value.at(-1))
  return { id, fault, sent, sights, last, pictures, begin, add, read, end }
}
