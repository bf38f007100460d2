import { words } from '@/api/constants.gen'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** The units of pressure that testers show. */
/** The units of pressure, those that are typed most first. */
export const pressureUnits: readonly (typeof words.Reading.unit)[number][] = [
  'psi',
  'bar',
  ...words.Reading.unit.filter((u) => u !== 'psi' && u !== 'bar'),
]
export type PressureUnit = (typeof pressureUnits)[number]

/** The unit after this one, for the key that changes it. */
export const unitAfter = (unit: PressureUnit) =>
  pressureUnits[(pressureUnits.indexOf(unit) + 1) % pressureUnits.length]!

/** What a leak-down tester is usually fed with, in its unit. */
export const usualSupply: Record<PressureUnit, string> = { psi: '100', bar: '7', kPa: '700', 'kgf/cm2': '7' }

/** A figure as it was read, under a heading that names a unit: with its own where that is another. */
export const asRead = (value: number | string, unit: string, heading: string) =>
  unit === heading ? String(value) : `${value} ${unit}`

/** The figure that was typed, with a comma or a point: undefined where nothing was, NaN where it is none. */
export function figureOf(text: string): number | undefined {
  const typed = text.trim()
  if (typed === '') return undefined
  return /^[+-]?(\d+([.,]\d*)?|[.,]\d+)$/.test(typed) ? Number(typed.replace(',', '.')) : NaN
}

/** The figures of a line, between blanks or semicolons; a comma belongs to its figure. */
export const figuresOf = (line: string): number[] =>
  line
    .split(/[\s;]+/)
    .filter(Boolean)
    .map((text) => figureOf(text)!)

/** What is said of what is none. */
export const noFigure = (text: string) => says('not-number-type-one-such', { typed: text.trim() })

/** A figure with one more key of a pad typed: it has one comma or point at most. */
export function typedOn(text: string, key: string): string {
  if (!/^[0-9.,]$/.test(key)) return text
  return /[.,]/.test(key) && /[.,]/.test(text) ? text : text + key
}

/** A figure as it is pasted from elsewhere, with its unit or without: "172 psi", " 172 ". Undefined where it is neither. */
export function pasted(text: string): { figure: string; unit?: PressureUnit } | undefined {
  const found = /^([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+))\s*(.*)$/.exec(text.trim())
  if (!found) return undefined
  const [, figure = '', rest = ''] = found
  if (rest === '' || rest === '%') return { figure }
  const unit = pressureUnits.find(
    (u) => u.toLowerCase() === rest.toLowerCase().replace('²', '2').replace('cm^2', 'cm2'),
  )
  return unit && { figure, unit }
}

/** What is said of what was pasted and is no figure. */
export const noPaste = (text: string) => says('cant-read-as-number-type', { typed: text.trim().slice(0, 40) })
