import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { byDue, finds, none, picks } from './find'

type Engine = Schemas['RackEngine']
const engine = (more: Partial<Engine>) =>
  ({
    id: 'x',
    name: 'Heron',
    about: '2.2 l four',
    state: 'act',
    sentence: 'Cylinder 3 lost 9 %',
    tests: 3,
    diary: [],
    ...more,
  }) as Engine
const due = (standing: string, by?: string) => ({ standing, by }) as Engine['diary'][number]

describe('the rack', () => {
  it('finds by every word typed, in names, owners, notes', () => {
    const e = engine({ owner: 'Marit', words: 'block number 4471 decked' })
    for (const typed of ['', 'heron', 'MARIT', '4471', 'marit 4471', '  four  heron '])
      expect(finds(e, typed), typed).toBe(true)
    for (const typed of ['bittern', 'marit 4472']) expect(finds(e, typed), typed).toBe(false)
  })

  it('picks by state, owner, place and what is due', () => {
    const e = engine({ owner: 'Marit', place: 'stand', diary: [due('soon')] })
    expect(picks(e, none)).toBe(true)
    expect(picks(e, { ...none, state: 'act', owner: 'Marit', place: 'stand', due: 'soon' })).toBe(true)
    expect(picks(e, { ...none, state: 'steady' })).toBe(false)
    expect(picks(e, { ...none, owner: 'Pekka' })).toBe(false)
    expect(picks(e, { ...none, place: 'car' })).toBe(false)
    expect(picks(e, { ...none, due: 'overdue' })).toBe(false)
    expect(picks(engine({ diary: [due('now')] }), { ...none, due: 'overdue' })).toBe(true)
    expect(picks(engine({ tests: 0, state: 'steady' }), { ...none, state: 'steady' })).toBe(false)
  })

  it('orders by what is due', () => {
    const all = [
      engine({ id: 'none' }),
      engine({ id: 'later', diary: [due('later', '2033-01-01')] }),
      engine({ id: 'soon2', diary: [due('soon', '2032-02-02')] }),
      engine({ id: 'overdue', diary: [due('later', '2033-01-01'), due('overdue', '2032-09-09')] }),
      engine({ id: 'soon1', diary: [due('soon', '2032-01-02')] }),
    ]
    expect(all.sort(byDue).map((e) => e.id)).toEqual(['overdue', 'soon1', 'soon2', 'later', 'none'])
  })
})
