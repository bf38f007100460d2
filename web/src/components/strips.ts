import type { Schemas } from '@/api/client'
import { longDate, signed } from '@/composables/useFormat'
import { rounded, sayer, written } from '@/words/say'
import { worded } from '@/words/values'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

export type Strips = Schemas['Strips']
export type Visit = Schemas['StripsVisit']
export type Point = Schemas['StripsPoint']
type Mark = Schemas['StripsMark']

const month = new Intl.DateTimeFormat('en-GB', { month: 'short', year: '2-digit', timeZone: 'UTC' })
const day = (iso: string) => Date.parse(`${iso}T00:00:00Z`) / 86_400_000

/** The part of the tests that is shown, and what for. */
export interface View {
  byMeter: boolean
  /** Index of the span that is looked at by itself; all where there is none. */
  span?: number
}

/** The axis of the strips: where each visit that is shown stands, in days or on the meter, and what happened between them. */
export function axisOf(strips: Strips, view: View, unit: string) {
  const span = view.span === undefined ? undefined : strips.spans[view.span]
  const all = strips.visits.map((_, i) => i)
  const shown = span ? all.slice(span.from, span.to + 1).filter((i) => inSpan(strips.visits[i]!, span)) : all
  const byMeter = view.byMeter && risesIn(strips, shown)
  const at = new Map(
    shown.map((i) => [i, byMeter ? strips.visits[i]!.meter! : day(strips.visits[i]!.date)] as [number, number]),
  )
  const values = [...at.values()]
  const from = Math.min(...values)
  const to = Math.max(...values)
  // A meter may begin anew with a build: what happened on an older one does not stand among the newer one's tests.
  const dates = shown.map((i) => strips.visits[i]!.date)
  const within = (m: Mark) => !m.date || (m.date >= dates[0]! && m.date <= dates.at(-1)!)
  const rules = strips.marks.filter(within).flatMap((m) => {
    const where = placeOf(m, strips, at, byMeter)
    return where === undefined || where < from || where > to ? [] : [{ kind: m.kind, words: m.words, at: where }]
  })
  const label = (v: number) => (byMeter ? `${v} ${unit}` : month.format(v * 86_400_000))
  return { shown, at, from, to, rules, label, byMeter }
}

export type Axis = ReturnType<typeof axisOf>

function inSpan(v: Visit, span: Schemas['StripsSpan']): boolean {
  return span.kind === 'build' ? v.build === span.id : v.date.startsWith(span.id)
}

/** Whether the meter of the visits shown never runs backwards, and moves. */
export function risesIn(strips: Strips, shown: number[]): boolean {
  const meters = shown.map((i) => strips.visits[i]!.meter)
  return (
    shown.length > 1 &&
    meters.every((m, i) => m !== undefined && (i === 0 || m >= meters[i - 1]!)) &&
    meters[0]! < meters.at(-1)!
  )
}

/** Where a mark stands: at its own meter or date, else half-way to the visit that it lies before. */
function placeOf(m: Mark, strips: Strips, at: Map<number, number>, byMeter: boolean): number | undefined {
  if (m.before) {
    const next = at.get(m.before)
    const before = at.get(m.before - 1)
    return next === undefined || before === undefined ? undefined : (next + before) / 2
  }
  if (!byMeter) return m.date ? day(m.date) : undefined
  if (m.meter !== undefined) return m.meter
  // An event that nobody read the meter at stands between the tests of its time.
  const i = strips.visits.findIndex((v) => m.date !== undefined && v.date > m.date)
  const [next, before] = [at.get(i), at.get(i - 1)]
  return next === undefined || before === undefined ? undefined : (next + before) / 2
}

/** How high one strip is, by how many there are: all of them are to be seen together, and none is to be a hair. */
export function heightOf(cylinders: number): number {
  if (cylinders === 1) return 150
  if (cylinders <= 4) return 80
  if (cylinders <= 6) return 68
  if (cylinders <= 8) return 58
  return cylinders <= 12 ? 52 : 44
}

/** A fifth of the supply is a third of a strip; what leaks more than a strip is high is cut off at its top. */
export function stemOf(leak: number, height: number): number {
  return Math.min(height - 3, (Math.max(leak, 0) / 20) * (height / 3))
}

const letters: Record<string, string> = { crankcase: 'c', intake: 'i', exhaust: 'e', coolant: 'w', neighbour: 'n' }
const places: Record<string, string> = {
  crankcase: says('at-filler'),
  intake: says('at-intake'),
  exhaust: says('at-exhaust'),
  coolant: says('into-coolant'),
  neighbour: says('at-neighbour'),
}

/** The place where air was heard, as the letter that is pressed for it on the run sheet. */
export const letterOf = (p: Point) => (p.heard ? letters[p.heard] : undefined)
/** The same in words, with the neighbour's number. */
export const placeOfAir = (p: Point) =>
  p.heard === 'neighbour' && p.heard_at ? says('at-hole', { heard_at: p.heard_at }) : p.heard && places[p.heard]

/** What one test says of one cylinder, in the words that are read out. */
export function wordsOf(p: Point): string {
  return [
    p.reading,
    p.baseline ? says('baseline-2') : p.change_pct !== undefined && `${signed(p.change_pct)} %`,
    p.leak_pct !== undefined && says('leaks-2', { leak: rounded(p.leak_pct, 0) }),
    placeOfAir(p),
    p.state !== 'steady' && p.state,
    p.faint && p.state !== 'retest' && says('struck-2'),
  ]
    .filter(Boolean)
    .join(', ')
}

/** What a visit is: its day, its meter, what it was for and how warm the engine was. */
export function visitWords(v: Visit, unit: string): string {
  return [
    longDate(v.date),
    v.meter !== undefined && `${written(v.meter)} ${unit}`,
    worded(v.stage),
    worded(v.temp),
    v.struck && says('struck-why', { why: v.struck }),
  ]
    .filter(Boolean)
    .join(' · ')
}

/** Where a rule's words start, so that they stay on the drawing. */
export function ruleOf(x: number, width: number, words: string): number {
  return Math.max(0, Math.min(x + 4, width - words.length * 6.4))
}

/** The words of rules that would run into each other are set in two rows, and left out where there is no room for them. */
export function setRules(
  rules: { x: number; words: string }[],
  width: number,
): { x: number; words: string; row: number }[] {
  const ends = [-Infinity, -Infinity]
  return [...rules]
    .sort((a, b) => a.x - b.x)
    .flatMap((r) => {
      const words = r.words.length > 28 ? `${r.words.slice(0, 27)}…` : r.words
      const start = ruleOf(r.x, width, words)
      const row = ends.findIndex((end) => start > end + 6)
      if (row < 0) return []
      ends[row] = start + words.length * 6.6
      return [{ x: start, words, row }]
    })
}

/** The build that another is laid behind: where its visits stand, counted from the first of each. */
export function behindOf(strips: Strips, axis: Axis, build: string): Map<number, number> {
  const visits = strips.visits.flatMap((v, i) => (v.build === build && !v.struck ? [i] : []))
  const value = (i: number) => (axis.byMeter ? strips.visits[i]!.meter : day(strips.visits[i]!.date))
  const first = visits.length ? value(visits[0]!) : undefined
  if (first === undefined) return new Map()
  return new Map(
    visits.flatMap((i) => {
      const v = value(i)
      return v === undefined ? [] : [[i, axis.from + v - first] as [number, number]]
    }),
  )
}
