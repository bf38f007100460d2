// @vitest-environment jsdom
import { describe, expect, it } from 'vitest'
import { markOf, ranked } from './traces'

describe('a recording', () => {
  it('marks a compression by its cylinder or face, else by its count', () => {
    const beat = { seconds: 1, value: 2, whole: true }
    expect(markOf({ ...beat, cylinder: 4 }, 0)).toBe('4')
    expect(markOf({ ...beat, face: 2 }, 0)).toBe('f2')
    expect(markOf(beat, 6)).toBe('7')
  })
  it('ranks a relative test from the lowest', () => {
    expect(ranked({ 1: 100, 2: 78, 3: 96 }).map((r) => r.cylinder)).toEqual(['2', '3', '1'])
    expect(ranked(undefined)).toEqual([])
  })
})
