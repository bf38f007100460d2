import rulebook from '@/api/rulebook.gen.json'
import type { Schemas } from '@/api/client'
import { figureOf } from './figure'

/** The units in which figures may be typed, by what they measure; the logs' own first. */
const measures = rulebook.measures as Schemas['Measure'][][]
const plain = (unit: string) =>
  unit
    .toLowerCase()
    .replace(/^°/, '')
    .replace(/[\s-]|\.$/g, '')
const names = (m: (typeof measures)[number][number]) => [m.unit, ...(m.also ?? [])].map(plain)

/** The unit that a field is in, where its label ends with one that is known. */
export function unitIn(label: string): string | undefined {
  const words = label.split(/[\s,()]+/).map(plain)
  const units = words.map((w) => measures.flat().find((m) => plain(m.unit) === w)?.unit)
  return units.filter(Boolean).at(-1)
}

/**
 * The figure that was typed for a field in a unit: with no unit it is in the field's own, with another of the same thing it is brought to
 * that. Undefined where nothing was typed, NaN where it is no figure, or of something else.
 */
export function measured(text: string, unit: string | undefined): number | undefined {
  const found = /^\s*([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+))\s*([a-z°"'″′].*?)\s*$/i.exec(text)
  if (!found || !unit) return figureOf(text)
  const value = figureOf(found[1]!)!
  const list = measures.find((l) => l.some((m) => names(m).includes(plain(unit))))
  const from = list?.find((m) => names(m).includes(plain(found[2]!)))
  const to = list?.find((m) => names(m).includes(plain(unit)))
  if (!from || !to) return plain(found[2]!) === plain(unit) ? value : NaN
  if (from === to) return value
  // As fine as any instrument shows it: what a sum leaves behind that is no figure of anybody's.
  return Number(((value * from.factor + from.offset - to.offset) / to.factor).toPrecision(7))
}
