import { decimalsOf, turned } from '@/composables/measures'
import { choice, own, unitFor } from '@/composables/shown'

export type Quantity =
  | 'pressure'
  | 'air'
  | 'length'
  | 'height'
  | 'angle'
  | 'volume'
  | 'force'
  | 'torque'
  | 'percent'
  | 'ratio'
  | 'speed'
  | 'time'
  | 'count'

/** The unit of a sum's own, for what is measured, and the one shown where nothing is chosen. */
const measured: Partial<Record<Quantity, { unit: string; usual: string }>> = {
  pressure: { unit: 'kPa', usual: 'psi' },
  air: { unit: 'kPa', usual: 'kPa' },
  length: { unit: 'mm', usual: 'mm' },
  height: { unit: 'm', usual: 'm' },
  volume: { unit: 'cc', usual: 'cc' },
  torque: { unit: 'Nm', usual: 'Nm' },
  force: { unit: 'N', usual: 'N' },
}
const fixed: Partial<Record<Quantity, string>> = { angle: '°', percent: '%', speed: 'rpm', time: 's' }

/** What can be chosen beside the sums themselves. */
export const choices = {
  pressure: ['psi', 'bar', 'kPa', 'kgf/cm2'],
  length: ['mm', 'in'],
  height: ['m', 'ft'],
} as const
export type Choosable = keyof typeof choices

export function unitOf(q: Quantity): string {
  const m = measured[q]
  if (!m) return fixed[q] ?? ''
  if (q === 'force') return choice.value.torque === 'lbf·ft' ? 'lbf' : m.usual
  return unitFor(m.usual, q)
}

export const choose = (q: Choosable, unit: string) => (own.value = { ...own.value, [q]: unit })

/** From what is typed in the chosen unit to the sum's own. */
export const toSum = (v: number, q: Quantity) => (measured[q] ? turned(v, unitOf(q), measured[q].unit) : v)

/** From the sum's own unit to what is shown: no more digits than a gauge, or a calliper, has. */
export function shown(v: number, q: Quantity): string {
  const x = measured[q] ? turned(v, measured[q].unit, unitOf(q)) : v
  if (q === 'length') return String(Number(x.toFixed(unitOf(q) === 'in' ? 3 : decimalsOf(unitOf(q)))))
  if (q === 'air') return String(Number(x.toFixed(decimalsOf(unitOf(q)))))
  const digits = Math.abs(x) >= 100 ? 0 : Math.abs(x) >= 10 ? 1 : Math.abs(x) >= 1 ? 2 : 3
  return String(Number(x.toFixed(digits)))
}

/** From the sum's own unit to what stands in a field: a bore is measured finer than results are given. */
export const typedAs = (v: number, q: Quantity): string =>
  q === 'length' ? String(Number(turned(v, 'mm', unitOf(q)).toPrecision(6))) : shown(v, q)
