// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, ref } from 'vue'
import type { Work } from '@/composables/useSheet'
import { useCrank } from './useCrank'

const bench = (crank: { seconds?: number; most_s: number }) => {
  const sheet = ref({ cells: [], wet: [], crank: { about_s: 5, rest_factor: 3, ...crank } })
  const scope = effectScope()
  const starter = scope.run(() => useCrank({ sheet } as unknown as Work, ref(3)))!
  return { starter, end: () => scope.stop() }
}

describe('the starter at the sheet', () => {
  beforeEach(() => void vi.useFakeTimers({ now: 1_000_000 }))
  afterEach(() => void vi.useRealTimers())

  it('runs by the clock until it is stopped, and its seconds go with the pull of that cylinder, once', () => {
    const { starter, end } = bench({ most_s: 10 })
    starter.toggle()
    vi.advanceTimersByTime(4200)
    expect(starter.running.value).toBe(true)
    starter.toggle()
    expect(starter.running.value).toBe(false)
    expect(starter.take(3)).toBeCloseTo(4.2, 1)
    expect(starter.take(3)).toBeUndefined()
    end()
  })
  it('stops by itself at its time', () => {
    const { starter, end } = bench({ seconds: 7, most_s: 10 })
    starter.toggle()
    vi.advanceTimersByTime(9000)
    expect(starter.running.value).toBe(false)
    expect(starter.take(3)).toBe(7)
    end()
  })
  it('and at what it stands, where nobody stops it', () => {
    const { starter, end } = bench({ most_s: 10 })
    starter.toggle()
    vi.advanceTimersByTime(60_000)
    expect(starter.take(3)).toBe(10)
    end()
  })
  it('gives no seconds to another cylinder', () => {
    const { starter, end } = bench({ most_s: 10 })
    starter.toggle()
    vi.advanceTimersByTime(2000)
    expect(starter.take(5)).toBeUndefined()
    expect(starter.running.value).toBe(false)
    end()
  })
  it('asks for its rest, counts it down, and says how long it ran in all', () => {
    const { starter, end } = bench({ most_s: 10 })
    starter.toggle()
    vi.advanceTimersByTime(8000)
    starter.toggle()
    expect(starter.rest.value).toBe(9) // 24 owed, less the 15 that it stands
    expect(starter.ran.value).toBe(8)
    vi.advanceTimersByTime(5000)
    expect(starter.rest.value).toBe(4)
    end()
  })
})
