import { beforeEach, describe, expect, it, vi } from 'vitest'
import { change, place, take, work, type Board, type Cell } from './useSeason'

const told = vi.hoisted(() => [] as { kind: string; body: Record<string, unknown> }[])
vi.mock('@/outbox/useOutbox', () => ({
  tellAll: (all: { kind: string; body: Record<string, unknown> }[]) => {
    told.push(...all)
    return Promise.resolve([])
  },
}))
beforeEach(() => told.splice(0))

const cell: Cell = { meeting: 'm1', car: 'c1', chance: 0.9, jobs: [{ id: 'old', work: 'test' }] }

describe('placing an engine', () => {
  it('takes it off one car and puts it into the other', async () => {
    await place(cell, 'e1', 'c2')
    expect(told.map((t) => [t.body.id, t.body.engine, t.body.off])).toEqual([
      ['m1.c1', undefined, true],
      ['m1.c2', 'e1', false],
    ])
  })
  it('takes it off where it is to run in none', async () => {
    await place(cell, 'e1')
    expect(told).toHaveLength(1)
    expect(told[0]!.body).toMatchObject({ id: 'm1.c1', off: true })
  })
  it('changes only what is named of a start', async () => {
    await change(cell, { pinned: true })
    expect(told[0]!.body).toEqual({ id: 'm1.c1', meeting: 'm1', car: 'c1', pinned: true })
  })
})

describe('work', () => {
  it('is planned under a name of its own, and taken off under the one that it has', async () => {
    await work(cell, 'e1', 'freshen')
    await work(cell, 'e1', 'test')
    expect(told.map((t) => [t.body.id, t.body.off])).toEqual([
      ['e1.freshen.m1', false],
      ['old', true],
    ])
  })
})

describe('taking a plan', () => {
  const board = {
    meetings: [
      { id: 'm0', past: true },
      { id: 'm1', past: false },
    ],
    engines: [
      { engine: 'e1', cells: [{ meeting: 'm0', car: 'c1' }, cell] },
      { engine: 'e2', cells: [{ meeting: 'm0' }, { meeting: 'm1' }] },
    ],
  } as unknown as Board
  const offer = (starts: object[], jobs: object[]) => ({ starts, jobs }) as unknown as Parameters<typeof take>[1]

  it('enters what differs and nothing of what is past', async () => {
    await take(
      board,
      offer(
        [
          { id: 'm0.c1', meeting: 'm0', car: 'c1', engine: 'e2' },
          { id: 'm1.c1', meeting: 'm1', car: 'c1', engine: 'e2' },
        ],
        [{ id: 'e2.freshen.m1', engine: 'e2', work: 'freshen', before: 'm1' }],
      ),
    )
    expect(told.map((t) => [t.kind, t.body.id, t.body.off])).toEqual([
      ['job', 'old', true],
      ['start', 'm1.c1', false],
      ['job', 'e2.freshen.m1', false],
    ])
  })
  it('enters nothing where it is what stands', async () => {
    await take(
      board,
      offer(
        [{ id: 'm1.c1', meeting: 'm1', car: 'c1', engine: 'e1' }],
        [{ id: 'old', engine: 'e1', work: 'test', before: 'm1' }],
      ),
    )
    expect(told).toEqual([])
  })
})
