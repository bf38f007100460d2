import { describe, expect, it } from 'vitest'
import { effectScope, nextTick, reactive } from 'vue'
import { dice } from './pressing'
import { useRow } from './useRow'

/** A row of four, tested in firing order. */
function bench(at?: number) {
  const state = reactive({ asked: 1, waiting: [] as number[], typed: false })
  const scope = effectScope()
  const row = scope.run(() =>
    useRow({
      order: () => [1, 3, 4, 2],
      asked: () => state.asked,
      waits: () => state.waiting.length > 0,
      enough: (n) => state.waiting.includes(n),
      entering: () => state.typed,
      at,
    }),
  )!
  return { state, row, end: () => scope.stop() }
}

describe('the cylinder in hand', () => {
  it('is the one that the sheet asks for, past those that wait, and the last when all is read', () => {
    const { state, row, end } = bench()
    expect(row.current.value).toBe(1)
    state.waiting = [1, 3]
    expect(row.current.value).toBe(4)
    state.asked = 0
    state.waiting = []
    expect(row.current.value).toBe(2)
    end()
  })
  it('is the one it stood at when the step was left half typed', () => {
    const { row, end } = bench(4)
    expect(row.current.value).toBe(4)
    end()
  })
  it('never changes under what is being typed, whatever news comes in', async () => {
    for (let seed = 1; seed <= 200; seed++) {
      const { state, row, end } = bench()
      const roll = dice(seed)
      for (let i = 0; i < 20; i++) {
        if (roll(3) === 0) row.move(roll(2) ? 1 : -1)
        state.typed = roll(2) === 0
        await nextTick()
        const before = row.current.value
        state.asked = roll(5)
        state.waiting = [1, 2, 3, 4].filter(() => roll(3) === 0)
        row.picked.value = undefined // a reading came in
        await nextTick()
        if (state.typed) expect(row.current.value, `seed ${seed}, step ${i}`).toBe(before)
        expect([1, 2, 3, 4]).toContain(row.current.value)
      }
      end()
    }
  })
})
