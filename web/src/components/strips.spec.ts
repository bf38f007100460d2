import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { ruleOf, times } from './strips'

type Page = Schemas['EnginePage']

function page(
  tests: { date: string; meter?: number; testers?: string[]; build?: string }[],
  events: Page['events'] = [],
): Page {
  return {
    engine: { meter_unit: 'h' },
    events,
    tests: tests.map((t) => ({ testers: ['long hose'], ...t })),
  } as unknown as Page
}

describe('times', () => {
  it('goes by the running meter where every test has one', () => {
    const t = times(
      page([
        { date: '2031-01-01', meter: 0 },
        { date: '2031-05-01', meter: 12 },
      ]),
    )
    expect(t.at).toEqual([0, 12])
    expect(t.label(10)).toBe('10 h')
  })

  it('goes by the date where a meter is missing or was turned back', () => {
    for (const second of [undefined, 3]) {
      const t = times(
        page([
          { date: '2031-01-01', meter: 9 },
          { date: '2031-01-31', meter: second },
        ]),
      )
      expect(t.at[1]! - t.at[0]!).toBe(30)
    }
  })

  it('rules off events, rebuilds and another gauge', () => {
    const t = times(
      page(
        [
          { date: '2031-01-01', meter: 0, build: 'b1' },
          { date: '2031-02-01', meter: 10, build: 'b1', testers: ['short hose'] },
          { date: '2031-03-01', meter: 20, build: 'b2', testers: ['short hose'] },
        ],
        [
          { what: 'hot day', meter: 15 },
          { what: 'no meter', date: '2031-02-02' },
        ],
      ),
    )
    expect(t.rules.map((r) => [r.at, r.words])).toEqual([
      [15, 'hot day'],
      [5, 'other gauge'],
      [15, 'new build'],
    ])
  })
})

describe('ruleOf', () => {
  it('keeps the words on the drawing', () => {
    expect(ruleOf(-3, 600, 'x')).toBeGreaterThanOrEqual(0)
    expect(ruleOf(590, 600, 'missed shift')).toBeLessThan(560)
  })
})
