import { beforeEach, describe, expect, it, vi } from 'vitest'
import { change, instead, place, take, work, type Board, type Cell } from './useSeason'

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
  it('takes the place of what was planned there, under a name of its own, and none takes that off', async () => {
    await work(cell, 'e1', '2033-05-14', 'freshen')
    expect(told.map((t) => [t.body.id, t.body.off, t.body.planned])).toEqual([
      ['old', true, undefined],
      ['e1.freshen.m1', false, '2033-05-14'],
    ])
    told.length = 0
    await work(cell, 'e1', '2033-05-14', 'test')
    await work(cell, 'e1', '2033-05-14')
    expect(told.map((t) => [t.body.id, t.body.off])).toEqual([['old', true]])
  })

  it('that is done stays', async () => {
    await work({ ...cell, jobs: [{ id: 'old', work: 'test', done: '2033-05-02' }] } as Cell, 'e1', '2033-05-14')
    expect(told).toEqual([])
  })
})

describe('an engine in place of another', () => {
  const board = {
    meetings: [{ id: 'm1' }],
    engines: [
      { engine: 'e1', cells: [{ meeting: 'm1', car: 'c1' }] },
      { engine: 'e2', cells: [{ meeting: 'm1', car: 'c2' }] },
      { engine: 'e3', cells: [{ meeting: 'm1' }] },
    ],
  } as unknown as Board
  const after = () =>
    told.reduce<Record<string, unknown>>((all, { body }) => {
      all[body.car as string] = body.off ? undefined : body.engine
      return all
    }, {})

  it('changes places with it where both run', async () => {
    await instead(board, 0, 'e1', 'e2')
    expect(after()).toEqual({ c1: 'e2', c2: 'e1' })
  })

  it('takes its car where it ran in none', async () => {
    await instead(board, 0, 'e1', 'e3')
    expect(after()).toEqual({ c1: 'e3' })
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
