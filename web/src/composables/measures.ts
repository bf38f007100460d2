import rulebook from '@/api/rulebook.gen.json'
import type { Schemas } from '@/api/client'
import { figureOf } from './figure'

/** The units in which figures may be typed and shown, by what they measure; the logs' own first. */
const measures = rulebook.measures as Schemas['Quantity'][]
type Measure = NonNullable<Schemas['Quantity']['units']>[number]

const plain = (unit: string) =>
  unit
    .toLowerCase()
    .replace(/^°/, '')
    .replace(/[\s-]|\.$/g, '')
const called = (m: Measure, unit: string) => [m.unit, ...(m.also ?? [])].map(plain).includes(plain(unit))

/** The quantity that a unit measures. */
const quantityOf = (unit: string) => measures.find((q) => q.units?.some((m) => called(m, unit)))
const measureOf = (unit: string) => quantityOf(unit)?.units?.find((m) => called(m, unit))

/** What is measured in a unit. */
export const ofUnit = (unit: string) => quantityOf(unit)?.of

/** To how many decimals an instrument with that unit is read. */
export const decimalsOf = (unit: string) => measureOf(unit)?.decimals ?? 1

/** The unit that a field is in, where its label ends with one that is known. */
export function unitIn(label: string): string | undefined {
  const units = label
    .split(/[\s,()]+/)
    .map((w) => measures.flatMap((q) => q.units ?? []).find((m) => plain(m.unit) === plain(w)))
  return units.filter(Boolean).at(-1)?.unit
}

/** A figure in another unit of the same thing; as it is where the two have nothing to do with each other. */
export function turned(value: number, from: string, to: string): number {
  const [a, b] = [measureOf(from), measureOf(to)]
  if (!a || !b || a === b || quantityOf(from) !== quantityOf(to)) return value
  // As fine as any instrument shows it: what a sum leaves behind that is no figure of anybody's.
  return Number(((value * a.factor + a.offset - b.offset) / b.factor).toPrecision(7))
}

const figureAndUnit = /^\s*([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+))\s*([a-z°"'″′].*?)\s*$/i

/** A figure with its unit taken apart, the unit by the name that it is listed under. */
export function apart(text: string): { figure: string; unit?: string } {
  const found = figureAndUnit.exec(text)
  return found ? { figure: found[1]!, unit: measureOf(found[2]!)?.unit } : { figure: text.trim() }
}

/**
 * The figure that was typed for a field in a unit: with no unit it is in the field's own, with another of the same thing it is brought to
 * that. Undefined where nothing was typed, NaN where it is no figure, or of something else.
 */
export function measured(text: string, unit: string | undefined): number | undefined {
  const found = figureAndUnit.exec(text)
  if (!found || !unit) return figureOf(text)
  const value = figureOf(found[1]!)!
  const typed = found[2]!
  if (plain(typed) === plain(unit)) return value
  const list = quantityOf(unit)
  const from = list?.units?.find((m) => called(m, typed))
  return from ? turned(value, from.unit, unit) : NaN
}
