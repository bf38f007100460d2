import { describe, expect, it } from 'vitest'
import { axisOf, behindOf, heightOf, risesIn, ruleOf, setRules, stemOf, wordsOf, type Strips } from './strips'

function strips(
  visits: { date: string; meter?: number; build?: string }[],
  marks: Strips['marks'] = [],
  spans: Strips['spans'] = [],
): Strips {
  return {
    visits: visits.map((v, i) => ({ id: `s${i}`, state: 'steady', ...v })),
    marks,
    spans,
    strips: [],
    all: { cylinder: 0, called: 'all', points: [], band_pct: 2 },
  } as Strips
}
const two = [
  { date: '2031-01-01', meter: 0 },
  { date: '2031-01-31', meter: 12 },
]

describe('the axis', () => {
  it('goes by the meter where it rises, by the date where that is asked for or it does not', () => {
    expect([...axisOf(strips(two), { byMeter: true }, 'h').at.values()]).toEqual([0, 12])
    expect(axisOf(strips(two), { byMeter: true }, 'h').label(10)).toBe('10 h')
    for (const [visits, byMeter] of [
      [two, false],
      [[two[0]!, { date: '2031-01-31' }], true],
      [[{ ...two[0]!, meter: 20 }, two[1]!], true],
    ] as const) {
      const axis = axisOf(strips([...visits]), { byMeter }, 'h')
      expect(axis.to - axis.from).toBe(30)
      expect(axis.byMeter).toBe(false)
    }
  })

  it('rules off what happened, where it happened or before the test that followed', () => {
    const axis = axisOf(
      strips(two, [
        { kind: 'event', words: 'hot day', meter: 3, date: '2031-01-10' },
        { kind: 'event', words: 'nobody read the meter', date: '2031-01-20' },
        { kind: 'gauge', words: 'other gauge', before: 1 },
        { kind: 'event', words: 'long after', meter: 99 },
      ]),
      { byMeter: true },
      'h',
    )
    expect(axis.rules.map((r) => [r.words, r.at])).toEqual([
      ['hot day', 3],
      ['nobody read the meter', 6],
      ['other gauge', 6],
    ])
  })

  it('shows one build or one season by itself', () => {
    const all = strips(
      [
        { date: '2031-01-01', meter: 30, build: 'b1' },
        { date: '2032-01-01', meter: 0, build: 'b2' },
        { date: '2032-06-01', meter: 9, build: 'b2' },
      ],
      [],
      [
        { kind: 'build', id: 'b1', name: 'old', from: 0, to: 0 },
        { kind: 'build', id: 'b2', name: 'new', from: 1, to: 2 },
        { kind: 'season', id: '2032', name: '2032', from: 1, to: 2 },
      ],
    )
    expect(axisOf(all, { byMeter: true }, 'h').byMeter).toBe(false)
    for (const span of [1, 2]) {
      const axis = axisOf(all, { byMeter: true, span }, 'h')
      expect(axis.shown).toEqual([1, 2])
      expect(axis.byMeter).toBe(true)
    }
    expect(risesIn(all, [0])).toBe(false)
  })

  it('leaves what happened on an older build out, though the meter came to the same figure', () => {
    const all = strips(
      [
        { date: '2031-01-01', meter: 0, build: 'b1' },
        { date: '2032-01-01', meter: 0, build: 'b2' },
        { date: '2032-06-01', meter: 9, build: 'b2' },
      ],
      [
        { kind: 'event', words: 'hot day', meter: 5, date: '2031-03-01' },
        { kind: 'event', words: 'missed shift', meter: 5, date: '2032-03-01' },
      ],
      [{ kind: 'build', id: 'b2', name: 'new', from: 1, to: 2 }],
    )
    expect(axisOf(all, { byMeter: true, span: 0 }, 'h').rules.map((r) => r.words)).toEqual(['missed shift'])
  })

  it('lays an older build behind, counted from its first test', () => {
    const all = strips([
      { date: '2031-01-01', meter: 100, build: 'b1' },
      { date: '2031-06-01', meter: 107, build: 'b1' },
      { date: '2032-01-01', meter: 2, build: 'b2' },
      { date: '2032-06-01', meter: 9, build: 'b2' },
    ])
    all.spans = [{ kind: 'build', id: 'b2', name: 'new', from: 2, to: 3 }]
    const axis = axisOf(all, { byMeter: true, span: 0 }, 'h')
    expect([...behindOf(all, axis, 'b1')]).toEqual([
      [0, 2],
      [1, 9],
    ])
  })
})

describe('the drawing', () => {
  it('makes a leak of a fifth a third of the strip, and never higher than it', () => {
    expect(stemOf(20, 90)).toBe(30)
    expect(stemOf(0, 90)).toBe(0)
    expect(stemOf(100, 90)).toBeLessThan(90)
  })

  it('leaves every strip high enough to be read', () => {
    for (const n of [1, 4, 8, 12, 24, 64]) expect(heightOf(n)).toBeGreaterThanOrEqual(44)
  })

  it('keeps the words of rules on the drawing and apart', () => {
    expect(ruleOf(-3, 600, 'x')).toBeGreaterThanOrEqual(0)
    expect(ruleOf(590, 600, 'missed shift')).toBeLessThan(560)
    const set = setRules(
      Array.from({ length: 9 }, (_, i) => ({ x: 100 + i * 20, words: 'missed shift' })),
      600,
    )
    for (const row of [0, 1]) {
      const starts = set.filter((s) => s.row === row).map((s) => s.x)
      for (let i = 1; i < starts.length; i++) expect(starts[i]! - starts[i - 1]!).toBeGreaterThan(12 * 6.4)
    }
  })
})

describe('what is read out', () => {
  const p = { visit: 0, state: 'steady' } as const
  it('says what was measured and nothing else', () => {
    expect(wordsOf({ ...p, reading: '188 psi', change_pct: -0.24, leak_pct: 3.4 })).toBe('188 psi, −0.2 %, leaks 3 %')
    expect(wordsOf({ ...p, state: 'act', change_pct: -9.1, leak_pct: 14, heard: 'neighbour', heard_at: 7 })).toBe(
      '−9.1 %, leaks 14 %, at the hole of 7, act',
    )
    expect(wordsOf({ ...p, reading: '180 psi', change_pct: 0, baseline: true })).toBe('180 psi, its baseline')
    expect(wordsOf({ ...p, reading: '90 psi', faint: true })).toBe('90 psi, struck')
    expect(wordsOf({ ...p, reading: '90 psi', faint: true, state: 'retest' })).toBe('90 psi, retest')
  })
})
