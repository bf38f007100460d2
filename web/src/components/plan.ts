import type { Schemas } from '@/api/client'

/** Where a bore is drawn, seen from above with the front at the left. */
export interface BoreAt {
  cylinder: number
  x: number
  y: number
}

const pitch = 121
const left = 112
const top = 66
const rowGap = 168
/** The least radius on which a radial's bores stand: their numbers and leaks stand inside. */
const roundLeast = 150
/** How far a radial’s case stays from the middle of its bores. */
const caseGap = 60

/** The drawing of a layout: bores, the outline of each bank, the crank line between two banks, marked gasket lands. */
export function plan(layout: Schemas['Layout'], suspects: [number, number][]) {
  if (layout.radial && layout.banks?.length === 1) return round(layout.banks[0]!)
  const rows = layout.banks ?? [Array.from({ length: layout.rotors ?? 0 }, (_, i) => i + 1)]
  const stagger = rows.length === 2 && rows[0]!.length > 0 ? 18 : 0
  const longest = Math.max(...rows.map((row) => row.length), 1)
  const bores: BoreAt[] = []
  const blocks: string[] = []
  rows.forEach((row, r) => {
    const y = top + r * rowGap
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
  const height = 2 * top + (rows.length - 1) * rowGap
  return {
    width: left + (longest - 1) * pitch + 80 + stagger,
    height,
    bores,
    blocks,
    gaskets,
    axis: rows.length > 1 ? height / 2 : 0,
    front: height / 2 + 4,
    hub: 0,
  }
}

/** A radial as it is seen from its front: the first cylinder at the top, the others clockwise. Its cylinders share no gasket. */
function round(row: number[]) {
  const tenth = (v: number) => Math.round(v * 10) / 10
  const radius = Math.max(pitch / (2 * Math.sin(Math.PI / row.length)), roundLeast)
  const side = tenth(2 * (radius + top))
  const bores = row.map((cylinder, i) => {
    const turn = (2 * Math.PI * i) / row.length
    return { cylinder, x: tenth(side / 2 + radius * Math.sin(turn)), y: tenth(side / 2 - radius * Math.cos(turn)) }
  })
  return {
    width: side,
    height: side,
    bores,
    blocks: [] as string[],
    gaskets: [] as { x: number; y: number }[],
    axis: 0,
    front: 0,
    hub: tenth(radius - caseGap),
  }
}

/** Where the number of a bore and its leak stand, from its middle: of a radial inside the ring of bores, where nothing covers them. */
export function labels(drawing: ReturnType<typeof plan>, b: BoreAt) {
  if (!drawing.hub) return { number: { x: -53, y: -38 }, leak: { x: 56, y: 58 } }
  const [dx, dy] = [drawing.width / 2 - b.x, drawing.height / 2 - b.y]
  const far = Math.hypot(dx, dy)
  const at = (r: number) => ({ x: (dx / far) * r, y: (dy / far) * r + 6 })
  return { number: at(78), leak: at(102) }
}

/** The arc around a bore for a leak in percent: a full turn would be 50 %. */
export function arc(leak: number): string {
  const turn = Math.min(Math.max(leak, 0) / 50, 0.999) * 2 * Math.PI
  return `M0 -50A50 50 0 ${turn > Math.PI ? 1 : 0} 1 ${50 * Math.sin(turn)} ${-50 * Math.cos(turn)}`
}
