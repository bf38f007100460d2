// @vitest-environment jsdom
import { describe, expect, it } from 'vitest'
import { grow, type Curve } from './useGauge'

const none: Curve = { pull: 0, t: [], p: [] }

describe('the curve of a pull', () => {
  it('grows by the points of each frame', () => {
    let curve = grow(none, { of: 1, t: [0, 0.01], p: [0, 5] })
    curve = grow(curve, { of: 1, t: [0.02], p: [9] })
    expect(curve).toEqual({ pull: 1, t: [0, 0.01, 0.02], p: [0, 5, 9] })
    expect(grow(curve, { of: 1 })).toBe(curve)
  })
  it('begins anew with another pull, and with one that is told from its beginning again', () => {
    const first = grow(none, { of: 1, t: [0, 1], p: [1, 2] })
    expect(grow(first, { of: 2, t: [0], p: [7] })).toEqual({ pull: 2, t: [0], p: [7] })
    const again = grow(none, { of: 1, t: [0, 1], p: [1, 2] })
    expect(grow(again, { of: 1, t: [0, 1, 2], p: [1, 2, 3] })).toEqual({ pull: 1, t: [0, 1, 2], p: [1, 2, 3] })
    expect(grow(again, { of: 3 })).toEqual({ pull: 3, t: [], p: [] })
  })
})
