// @vitest-environment jsdom
import { describe, expect, it } from 'vitest'
import { restLeft } from './starter'

const crank = { about_s: 7, most_s: 10, rest_factor: 3 }

describe('the starter', () => {
  it('needs no rest before it ran', () => expect(restLeft([], crank, 5_000)).toBe(0))
  it('may crank ten seconds in all, and rests three for each', () => {
    const ran = [{ ended: 10_000, seconds: 7 }]
    expect(restLeft(ran, crank, 10_000)).toBe(12) // 21 owed, 9 of them within what it stands
    expect(restLeft(ran, crank, 18_000)).toBe(4)
    expect(restLeft(ran, crank, 40_000)).toBe(0)
  })
  it('rests while the gauge is moved', () => {
    const two = [
      { ended: 10_000, seconds: 7 },
      { ended: 47_000, seconds: 7 }, // thirty seconds between them: the first is forgotten
    ]
    expect(restLeft(two, crank, 47_000)).toBe(12)
  })
  it('owes the more, the closer the pulls', () => {
    const close = [
      { ended: 10_000, seconds: 7 },
      { ended: 18_000, seconds: 7 },
    ]
    expect(restLeft(close, crank, 18_000)).toBe(32) // 21 − 1 + 21 − 9
  })
  it('does not mind in which order it hears of the runs, and never asks for less after more', () => {
    const runs = [3, 1, 2].map((n) => ({ ended: n * 9_000, seconds: n }))
    expect(restLeft(runs, crank, 30_000)).toBe(restLeft([...runs].reverse(), crank, 30_000))
    for (let s = 0; s < 10; s++)
      expect(restLeft([...runs, { ended: 30_000, seconds: s + 1 }], crank, 30_000)).toBeGreaterThanOrEqual(
        restLeft([...runs, { ended: 30_000, seconds: s }], crank, 30_000),
      )
  })
  it('that ran as long as a pull by time is long may be asked at once only if it stands it', () =>
    expect(restLeft([{ ended: 0, seconds: 12 }], { about_s: 12, most_s: 12, rest_factor: 3 }, 0)).toBe(36))
})
