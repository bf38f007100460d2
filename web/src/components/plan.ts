import type { Schemas } from '@/api/client'

/** Where a bore is drawn, seen from above with the front at the left. */
export interface BoreAt {
  cylinder: number
  x: number
  y: number
}

const pitch = 121
const left = 112
const rowGap = 168

/** The drawing of a layout: bores, the outline of each bank, the crank line between two banks, marked gasket lands. */
export function plan(layout: Schemas['Layout'], suspects: [number, number][]) {
  const rows = layout.banks ?? [Array.from({ length: layout.rotors ?? 0 }, (_, i) => i + 1)]
  const stagger = rows.length === 2 && rows[0]!.length > 0 ? 18 : 0
  const longest = Math.max(...rows.map((row) => row.length), 1)
  const bores: BoreAt[] = []
  const blocks: string[] = []
  rows.forEach((row, r) => {
    const y = 66 + r * rowGap
    row.forEach((cylinder, i) => bores.push({ cylinder, x: left + i * pitch + r * stagger, y }))
    const from = left - 76
    const to = left + (longest - 1) * pitch + 70 + stagger
    blocks.push(`M${from} ${y - 56}H${to - 10}q10 0 10 10V${y + 46}q0 10 -10 10H${from}Z`)
  })
  const at = (cylinder: number) => bores.find((b) => b.cylinder === cylinder)
  const gaskets = suspects.flatMap(([a, b]) => {
    const one = at(a)
    const other = at(b)
    return one && other ? [{ x: (one.x + other.x) / 2, y: one.y }] : []
  })
  const height = 66 + (rows.length - 1) * rowGap + 66
  return {
    width: left + (longest - 1) * pitch + 80 + stagger,
    height,
    bores,
    blocks,
    gaskets,
    axis: rows.length > 1 ? height / 2 : 0,
    front: height / 2 + 4,
  }
}

/** The arc around a bore for a leak in percent: a full turn would be 50 %. */
export function arc(leak: number): string {
  const turn = Math.min(Math.max(leak, 0) / 50, 0.999) * 2 * Math.PI
  return `M0 -50A50 50 0 ${turn > Math.PI ? 1 : 0} 1 ${50 * Math.sin(turn)} ${-50 * Math.cos(turn)}`
}
