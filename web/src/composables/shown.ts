import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { written } from '@/words/say'
import type { PressureUnit } from './figure'
import { apart, decimalsOf, measured, ofUnit, turned } from './measures'

/** In which units, and how, things are shown. What is not chosen is shown as it was typed, or in the log's own unit. */
export type Choice = Schemas['Choice']
export type Chosen = keyof Choice

/** What whoever uses this browser chose for himself. */
export const own = useLocalStorage<Choice>('braxel.shown', {})

/** What the workshop chose, as the server says. */
export const workshops = ref<Choice>({})

/** What is in force here: one's own above the workshop's. */
export const choice = computed((): Choice => ({ ...workshops.value, ...own.value }))

/**
 * Sends one's own choice along with every request, so that the server says its own words in the same units, on papers too, which are plain
 * links. It answers when that has changed.
 */
export function sendChoice(changed: () => void) {
  const send = () => {
    const text = encodeURIComponent(JSON.stringify(own.value))
    const keeps = Object.keys(own.value).length ? 34_560_000 : 0
    document.cookie = `braxel-units=${text}; path=/; max-age=${keeps}; SameSite=Strict`
  }
  send()
  watch(
    own,
    () => {
      send()
      changed()
    },
    { deep: true },
  )
}

/** The unit of pressure to show, or the one given where none is chosen. */
export const pressureOr = (unit: PressureUnit): PressureUnit => choice.value.pressure || unit

/** What stands on a gauge of cylinders, or of oil; the log's kPa are the air's, where nothing else is said. */
const gauges = new Set(['psi', 'bar', 'kgf/cm2'])

/** The unit to show in the place of a log's. A gauge's kPa is pressure, the air's has an instrument of its own. */
export function unitFor(unit: string, of: string | undefined = gauges.has(unit) ? 'pressure' : ofUnit(unit)): string {
  const chosen = (choice.value as Record<string, string | undefined>)[of ?? '']
  return chosen || unit
}

/** A figure of the log as it is shown: as it is where it stays in its unit, in another to as many decimals as that is read to. */
export function shownIn(value: number, unit: string, of?: string): string {
  const to = unitFor(unit, of)
  if (to === unit) return written(value)
  return written(Number(turned(value, unit, to).toFixed(decimalsOf(to))))
}

/** The same with its unit. */
export const withUnit = (value: number, unit: string, of?: string) => `${shownIn(value, unit, of)} ${unitFor(unit, of)}`

/**
 * A figure of the log as it stands in a field: as it was typed, where that is on record and means this figure; else with as many decimals
 * as it takes to mean the same, to the fineness that the log's unit is read to.
 */
export function inField(value: number, unit: string, of?: string, typed = ''): string {
  const to = unitFor(unit, of)
  const sameAs = (there: number, within: number) => Math.abs(there - value) <= within
  const exactly = 1e-6 * Math.abs(value)
  if (typed !== '' && sameAs(measured(typed, unit) ?? NaN, exactly)) {
    const its = apart(typed)
    if (its.unit === to) return its.figure
    if (to === unit) return typed
  }
  if (to === unit) return String(value)
  const there = turned(value, unit, to)
  const means = (decimals: number, within: number) => sameAs(turned(Number(there.toFixed(decimals)), to, unit), within)
  const few = [0, 1, 2, 3, 4, 5]
  const exact = few.find((d) => d <= decimalsOf(to) + 1 && means(d, exactly))
  const near = few.find((d) => means(d, 0.5 * 10 ** -decimalsOf(unit)))
  return String(Number(there.toFixed(exact ?? near ?? 6)))
}

/** What to keep beside a figure of how it was typed: with its unit, where that is not the log's; "" where there is nothing to keep. */
export function asTyped(text: string, unit: string, of?: string): string {
  const its = apart(text)
  const in_ = its.unit ?? unitFor(unit, of)
  return text.trim() === '' || in_ === unit ? '' : `${its.figure} ${in_}`
}

/** What was typed into a field of the log's unit, in that unit; as `measured` says it otherwise. */
export function fromField(text: string, unit: string, of?: string): number | undefined {
  const to = unitFor(unit, of)
  const value = measured(text, to)
  return value === undefined ? undefined : turned(value, to, unit)
}
