import { useLocalStorage } from '@vueuse/core'

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

/** Units to choose from, and how many of the sum's own unit (kPa, mm, m) one of them holds. */
export const choices = {
  pressure: { psi: 6.894757293168361, kPa: 1, bar: 100, 'kgf/cm²': 98.0665 },
  length: { mm: 1, inch: 25.4 },
  height: { m: 1, feet: 0.3048 },
} as const

export type Chosen = {
  pressure: keyof typeof choices.pressure
  length: keyof typeof choices.length
  height: keyof typeof choices.height
}

/** The units that the person likes, kept in the browser. */
export const chosen = useLocalStorage<Chosen>('braxel.units', { pressure: 'psi', length: 'mm', height: 'm' })

const fixed: Partial<Record<Quantity, string>> = {
  air: 'kPa',
  angle: '°',
  volume: 'cm³',
  force: 'N',
  torque: 'N·m',
  percent: '%',
  speed: 'rpm',
  time: 's',
}

export function unitOf(q: Quantity): string {
  return q === 'pressure' || q === 'length' || q === 'height' ? chosen.value[q] : (fixed[q] ?? '')
}

function factor(q: Quantity): number {
  if (q === 'pressure') return choices.pressure[chosen.value.pressure]
  if (q === 'length') return choices.length[chosen.value.length]
  if (q === 'height') return choices.height[chosen.value.height]
  return 1
}

/** From what is typed in the chosen unit to the sum's own. */
export const toSum = (v: number, q: Quantity) => v * factor(q)

/** From the sum's own unit to what is shown: no more digits than a gauge, or a calliper, has. */
export function shown(v: number, q: Quantity): string {
  const x = v / factor(q)
  if (q === 'length') return String(Number(x.toFixed(chosen.value.length === 'mm' ? 2 : 3)))
  const digits = q === 'air' ? 1 : Math.abs(x) >= 100 ? 0 : Math.abs(x) >= 10 ? 1 : Math.abs(x) >= 1 ? 2 : 3
  return String(Number(x.toFixed(digits)))
}

/** From the sum's own unit to what stands in a field: a bore is measured finer than results are given. */
export const typedAs = (v: number, q: Quantity): string =>
  q === 'length' ? String(Number((v / factor(q)).toPrecision(6))) : shown(v, q)
