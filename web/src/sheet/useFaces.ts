import { useSessionStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { figureOf, noFigure } from '@/composables/figure'
import { useTyped } from '@/composables/useTyped'
import type { Work } from '@/composables/useSheet'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'
import { useFields } from './useFields'

const says = sayer(texts)

export const faceFields = ['face1', 'face2', 'face3'] as const
const film = ['held', 'pulses', 'seconds'] as const
export type Field = (typeof film)[number] | 'rpm' | (typeof faceFields)[number]
const all: readonly Field[] = [...film, 'rpm', ...faceFields]
/** What stands in each field before anything is typed. */
export const offered: Record<Field, string> = {
  held: '',
  pulses: '',
  seconds: '5',
  rpm: '',
  face1: '',
  face2: '',
  face3: '',
}

/** How each field is called where something is said of it. */
export const called: Record<Field, string> = {
  held: says('held-peak'),
  pulses: says('pulses-counted'),
  seconds: says('seconds'),
  rpm: says('cranked-at-rpm'),
  face1: says('face-2', { face: 1 }),
  face2: says('face-2', { face: 2 }),
  face3: says('face-2', { face: 3 }),
}

/** Returns the field that a refusal of the server is of. */
function fieldOf(at: string, face: number): Field {
  if (at.startsWith('/flicker/held')) return 'held'
  if (at.startsWith('/beats')) return 'pulses'
  if (at.startsWith('/seconds')) return 'seconds'
  if (at.startsWith('/rpm')) return 'rpm'
  return faceFields[face - 1]!
}

/** The fields of one rotor: read off a filmed needle of an ordinary gauge, or a tester that shows each face. */
export function useFaces(work: Work) {
  const filmed = useSessionStorage(`braxel.filmed.${work.engine}`, true)
  const typed = useTyped(work, 'faces', offered)
  const faults = ref<Partial<Record<Field, string>>>({})
  /** Those that are shown, in order. */
  const order = computed((): Field[] => (filmed.value ? [...film, ...faceFields] : [...faceFields, 'rpm']))
  /** Something is typed in what is shown: what was begun in the other way waits there, and holds up nothing here. */
  const some = computed(() => order.value.some((f) => f !== 'seconds' && f !== 'rpm' && typed.value[f] !== ''))

  const of = (f: Field) =>
    computed({ get: () => typed.value[f], set: (text) => (typed.value = { ...typed.value, [f]: text }) })
  const values = Object.fromEntries(all.map((f) => [f, of(f)])) as Record<Field, ReturnType<typeof of>>
  const fields = useFields<Field>(values, 'face1', () => delete faults.value[fields.at.value])
  const first = () => fields.focus(order.value[0])
  // The field in hand is always one that is shown, at once: the next digit may be on its way.
  watch(order, (shown) => (fields.at.value = shown[0]!), { flush: 'sync' })
  watch(order, first, { flush: 'post' })

  /** The next field that is empty, or undefined where none is. */
  const emptyAfter = () =>
    order.value.slice(order.value.indexOf(fields.at.value) + 1).find((f) => f !== 'rpm' && typed.value[f].trim() === '')

  /** Marks the field in hand where it is to be filled and is not, and says so. */
  function stillEmpty() {
    const at = fields.at.value
    const is = at !== 'rpm' && typed.value[at].trim() === ''
    if (is) faults.value[at] = says('still-empty')
    return is
  }

  function check() {
    faults.value = {}
    for (const f of order.value) {
      const text = typed.value[f].trim()
      if (f === 'rpm' && text === '') continue
      if (text === '') faults.value[f] = says('still-empty')
      else if (!(figureOf(text)! >= 0)) faults.value[f] = noFigure(text)
    }
    return toFault()
  }
  /** Goes to the first field that something is wrong with, and says whether there is one. */
  function toFault() {
    const at = order.value.find((f) => faults.value[f])
    if (at) fields.focus(at)
    return at !== undefined
  }
  /** Marks the fields that the server refused of a face. */
  function refuse(answer: Schemas['Answer'] | undefined, face: number) {
    const why = [{ at: answer?.field ?? '', what: answer?.why ?? says('not-saved') }]
    for (const f of answer?.faults ?? why) faults.value[fieldOf(f.at, face)] ??= f.what
  }
  /** The readings that the fields come to, face by face. */
  function bodies() {
    const pulses = faceFields.map((f) => figureOf(typed.value[f])!)
    const { pulses: counted, seconds, held, rpm } = typed.value
    return pulses.map((pulse, i) =>
      filmed.value
        ? {
            face: i + 1,
            beats: figureOf(counted),
            seconds: figureOf(seconds),
            flicker: { pulse, highest: Math.max(...pulses), held: figureOf(held)! },
          }
        : { face: i + 1, value: pulse, ...(rpm.trim() ? { rpm: figureOf(rpm) } : {}) },
    )
  }
  const clear = () => (typed.value = { ...offered, seconds: typed.value.seconds })

  return {
    filmed,
    typed,
    values,
    faults,
    some,
    order,
    fields,
    first,
    emptyAfter,
    stillEmpty,
    check,
    toFault,
    refuse,
    bodies,
    clear,
  }
}
