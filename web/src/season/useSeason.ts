import type { Schemas } from '@/api/client'
import { tellAll, type Outcome, type Typed } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/season.json'

const says = sayer(texts)

export type Board = Schemas['SeasonPage']
export type Row = Schemas['SeasonEngineRow']
export type Cell = Schemas['SeasonCell']
export type Head = Schemas['SeasonMeetingHead']
export type Work = Schemas['SeasonCellJob']['work']

/** The id of the start of a car at an event, as the core names it. */
const startOf = (meeting: string, car: string) => `${meeting}.${car}`

/** What a car is called. */
export const carOf = (board: Board, id: string) => board.cars.find((c) => c.id === id)?.name ?? says('car-gone')

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

/** Changes fields of a start: how long it ran. */
export const change = (cell: Cell, fields: Record<string, unknown>, id?: string) =>
  tellAll([
    {
      id,
      kind: 'start',
      body: { id: startOf(cell.meeting, cell.car!), meeting: cell.meeting, car: cell.car!, ...fields },
    } as Typed<'start'>,
  ])

/** The cars that an engine fits and that go to an event. */
export const carsFor = (board: Board, engine: string, at: number) =>
  board.cars.filter(
    (c) =>
      (c.sits === engine || c.engines?.includes(engine)) &&
      (!board.meetings[at]?.cars?.length || board.meetings[at].cars.includes(c.id)),
  )

/** Has another engine run in the car of one at an event. Where it ran in another car there, they change places. */
export async function instead(board: Board, at: number, was: string, engine: string): Promise<Outcome[]> {
  const of = (id: string) => board.engines.find((r) => r.engine === id)?.cells[at]
  const meeting = board.meetings[at]!.id
  const car = of(was)!.car!
  const theirs = of(engine)?.car
  const done = await place({ meeting, car: theirs }, engine, car)
  return theirs && theirs !== car ? [...done, ...(await place({ meeting }, was, theirs))] : done
}

/** Pins a start and the work before it, or lets go of both. */
export function pin(cell: Cell, engine: string, pinned: boolean): Promise<Outcome[]> {
  const all: Typed[] = (cell.jobs ?? []).map((j) => job(j.id, engine, j.work, cell.meeting, { pinned }))
  if (cell.car)
    all.push({
      kind: 'start',
      body: { id: startOf(cell.meeting, cell.car), meeting: cell.meeting, car: cell.car, pinned },
    })
  return tellAll(all)
}

const job = (id: string, engine: string, of: Work, before: string, fields: object): Typed => ({
  kind: 'job',
  body: { id, engine, work: of, before, ...fields },
})

/** Plans one kind of work on an engine before an event, in place of what was planned there, or none. What is done stays. */
export function work(cell: Cell, engine: string, today: string, of?: Work): Promise<Outcome[]> {
  const all = (cell.jobs ?? [])
    .filter((j) => j.work !== of && !j.done)
    .map((j) => job(j.id, engine, j.work, cell.meeting, { off: true }))
  if (of && !cell.jobs?.some((j) => j.work === of))
    all.push(job(`${engine}.${of}.${cell.meeting}`, engine, of, cell.meeting, { off: false, planned: today }))
  return tellAll(all)
}

/** Says that planned work was done on a day. */
export const did = (todo: Schemas['SeasonTodo'], day: string) =>
  tellAll([job(todo.job!, todo.engine, todo.work!, todo.meeting, { done: day })])

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
        all.push(job(j.id, c.engine, j.work, c.meeting, { off: true }))
  }
  for (const s of offer.starts) {
    const now = cells.find((c) => c.meeting === s.meeting && c.car === s.car)
    if (future.has(s.meeting) && now?.engine !== s.engine)
      all.push({ kind: 'start', body: { id: s.id, meeting: s.meeting, car: s.car, engine: s.engine, off: false } })
  }
  for (const j of offer.jobs) {
    const now = cells.find((c) => c.engine === j.engine && c.meeting === j.before)
    if (future.has(j.before) && !now?.jobs?.some((w) => w.work === j.work))
      all.push(job(j.id, j.engine, j.work, j.before, { off: false, planned: j.planned }))
  }
  return tellAll(all)
}
