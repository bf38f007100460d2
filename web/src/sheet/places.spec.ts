import { describe, expect, it } from 'vitest'
import { toggle } from './places'

describe('toggle', () => {
  it('sets a place, clear until said otherwise, and takes it off again', () => {
    const [on, armed] = toggle([], 'exhaust', [])
    expect(on).toEqual([{ where: 'exhaust', level: 2 }])
    expect(armed).toBe(on[0])
    expect(toggle(on, 'exhaust', [])).toEqual([[], undefined])
  })

  it('goes through the neighbours and then off', () => {
    const [front] = toggle([], 'neighbour', [3, 7])
    expect(front[0]!.cylinder).toBe(3)
    const [rear] = toggle(front, 'neighbour', [3, 7])
    expect(rear[0]!.cylinder).toBe(7)
    expect(toggle(rear, 'neighbour', [3, 7])[0]).toEqual([])
  })

  it('leaves the other places as they are', () => {
    const [one] = toggle([], 'crankcase', [])
    one[0]!.level = 1
    const [two] = toggle(one, 'exhaust', [])
    expect(two.map((p) => [p.where, p.level])).toEqual([
      ['crankcase', 1],
      ['exhaust', 2],
    ])
  })
})
