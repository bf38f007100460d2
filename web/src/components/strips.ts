import type { Schemas } from '@/api/client'

type Page = Schemas['EnginePage']

const month = new Intl.DateTimeFormat('en-GB', { month: 'short', year: '2-digit', timeZone: 'UTC' })
const days = (iso: string) => Date.parse(`${iso}T00:00:00Z`) / 86_400_000

/**
 * The time axis of an engine: its running meter where every test has one, else the date. Rules are what happened
 * between tests: events, rebuilds, another gauge.
 */
export function times(page: Page) {
  const byMeter =
    page.tests.length > 1 && page.tests.every((t) => t.meter !== undefined) && rising(page.tests.map((t) => t.meter!))
  const at = page.tests.map((t) => (byMeter ? t.meter! : days(t.date)))
  const unit = page.engine.meter_unit ?? ''
  const label = (v: number) => (byMeter ? `${v} ${unit}` : month.format(v * 86_400_000))
  const rules = (page.events ?? []).flatMap((e) => {
    const when = byMeter ? e.meter : e.date ? days(e.date) : undefined
    return when === undefined ? [] : [{ at: when, words: e.what }]
  })
  page.tests.forEach((test, i) => {
    const before = page.tests[i - 1]
    if (before && test.build !== before.build) rules.push({ at: (at[i - 1]! + at[i]!) / 2, words: 'new build' })
    if (before && test.testers.join() !== before.testers.join() && test.testers.length && before.testers.length) {
      rules.push({ at: (at[i - 1]! + at[i]!) / 2, words: 'other gauge' })
    }
  })
  return { at, label, rules, byMeter }
}

function rising(v: number[]): boolean {
  return v.every((x, i) => i === 0 || x >= v[i - 1]!)
}

/** Where a rule's words start, so that they stay on the drawing. */
export function ruleOf(x: number, width: number, words: string): number {
  return Math.max(0, Math.min(x + 4, width - words.length * 6.4))
}
