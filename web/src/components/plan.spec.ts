import { describe, expect, it } from 'vitest'
import { arc, plan } from './plan'
import type { Schemas } from '@/api/client'
import golden from './plan.golden.json'

const v8 = {
  banks: [
    [1, 3, 5, 7],
    [2, 4, 6, 8],
  ],
  bank_angle_deg: 90,
}

describe('plan', () => {
  it('draws each bank as a row, front at the left', () => {
    const { bores } = plan(v8, [])
    const at = (c: number) => bores.find((b) => b.cylinder === c)!
    expect(at(1).x).toBeLessThan(at(3).x)
    expect(at(1).y).toBe(at(7).y)
    expect(at(2).y).toBeGreaterThan(at(1).y)
    expect(at(2).x).toBeGreaterThan(at(1).x)
  })

  it('keeps every bore on the drawing and apart from the others', () => {
    for (const layout of [v8, { banks: [[1]] }, { banks: [[1, 2, 3, 4, 5, 6, 7, 8]] }, { rotors: 2 }]) {
      const { bores, width, height } = plan(layout, [])
      for (const b of bores) {
        expect(b.x + 54).toBeLessThanOrEqual(width)
        expect(b.y + 54).toBeLessThanOrEqual(height)
        for (const other of bores)
          if (other !== b) expect(Math.hypot(b.x - other.x, b.y - other.y)).toBeGreaterThan(108)
      }
    }
  })

  it('marks the land between two neighbours', () => {
    const { gaskets, bores } = plan(v8, [[5, 7]])
    const [five, seven] = [5, 7].map((c) => bores.find((b) => b.cylinder === c)!)
    expect(gaskets).toEqual([{ x: (five!.x + seven!.x) / 2, y: five!.y }])
  })
})

describe('arc', () => {
  it('turns with the leak and never quite closes', () => {
    expect(arc(12.5)).toMatch(/A50 50 0 0 1 50 /)
    expect(arc(90)).toMatch(/A50 50 0 1 1/)
    expect(arc(90)).toBe(arc(50))
  })
})

describe('the plan on the screen', () => {
  it('is the one that papers draw', () => {
    for (const { layout, drawn } of golden) {
      const { width, height, bores, axis, front, hub } = plan(layout as Schemas['Layout'], [])
      expect({ width, height, bores, axis, front, hub }).toEqual({
        width: drawn.width,
        height: drawn.height,
        bores: drawn.bores,
        axis: drawn.axis,
        front: drawn.front,
        hub: drawn.hub,
      })
    }
  })
})
