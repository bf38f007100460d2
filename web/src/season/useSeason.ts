import type { Schemas } from '@/api/client'
import { tellAll, type Outcome, type Typed } from '@/outbox/useOutbox'

export type Board = Schemas['SeasonPage']
export type Row = Schemas['SeasonEngineRow']
export type Cell = Schemas['SeasonCell']
export type Head = Schemas['SeasonMeetingHead']
export type Work = Schemas['SeasonCellJob']['work']

/** The id of the start of a car at an event, as the core names it. */
const startOf = (meeting: string, car: string) => `${meeting}.${car}`

/** Has an engine run in a car at an event, or in none. Whatever ran in that car there comes off. */
export function place(cell: Cell, engine: string, car?: string): Promise<Outcome[]> {
  const all: Typed[] = []
  if (cell.car && cell.car !== car)
    all.push({
      kind: 'start',
      body: { id: startOf(cell.meeting, cell.car), meeting: cell.meeting, car: cell.car, off: true },
    })
  if (car)
    all.push({
      kind: 'start',
      body: { id: startOf(cell.meeting, car), meeting: cell.meeting, car, engine, off: false },
    } as Typed<'start'>)
  return tellAll(all)
}

/** Changes fields of a start: that it is pinned, how long it ran. */
export const change = (cell: Cell, fields: Record<string, unknown>, id?: string) =>
  tellAll([
    {
      id,
      kind: 'start',
      body: { id: startOf(cell.meeting, cell.car!), meeting: cell.meeting, car: cell.car!, ...fields },
    } as Typed<'start'>,
  ])

/** Plans work on an engine before an event, or takes it off the plan. */
export function work(cell: Cell, engine: string, of: Work): Promise<Outcome[]> {
  const have = cell.jobs?.find((j) => j.work === of)
  const id = have?.id ?? `${engine}.${of}.${cell.meeting}`
  return tellAll([{ kind: 'job', body: { id, engine, work: of, before: cell.meeting, off: !!have } } as Typed<'job'>])
}

/** Takes a plan that was found: what differs from what stands. */
export function take(board: Board, offer: Schemas['SeasonOffer']): Promise<Outcome[]> {
  const all: Typed[] = []
  const cells = board.engines.flatMap((r) => r.cells.map((c) => ({ ...c, engine: r.engine })))
  const future = new Set(board.meetings.filter((m) => !m.past).map((m) => m.id))
  for (const c of cells) {
    if (!future.has(c.meeting)) continue
    if (c.car && !offer.starts.some((s) => s.meeting === c.meeting && s.car === c.car))
      all.push({ kind: 'start', body: { id: startOf(c.meeting, c.car), meeting: c.meeting, car: c.car, off: true } })
    for (const j of c.jobs ?? [])
      if (!offer.jobs.some((o) => o.engine === c.engine && o.before === c.meeting && o.work === j.work))
        all.push({ kind: 'job', body: { id: j.id, engine: c.engine, work: j.work, before: c.meeting, off: true } })
  }
  for (const s of offer.starts) {
    const now = cells.find((c) => c.meeting === s.meeting && c.car === s.car)
    if (future.has(s.meeting) && now?.engine !== s.engine)
      all.push({ kind: 'start', body: { id: s.id, meeting: s.meeting, car: s.car, engine: s.engine, off: false } })
  }
  for (const j of offer.jobs) {
    const now = cells.find((c) => c.engine === j.engine && c.meeting === j.before)
    if (future.has(j.before) && !now?.jobs?.some((w) => w.work === j.work))
      all.push({ kind: 'job', body: { id: j.id, engine: j.engine, work: j.work, before: j.before, off: false } })
  }
  return tellAll(all)
}
