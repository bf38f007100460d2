import { describe, expect, it } from 'vitest'
import { grouped, nextOf, shownAnswer } from './lines'

const line = (item: string, section: string, answer?: string, unchecked?: boolean) => ({
  item,
  section,
  words: item,
  answers: [],
  answer,
  unchecked,
})

describe('the lines of an inspection', () => {
  const lines = [line('a', 'One'), line('b', 'One', 'dry'), line('c', 'Two'), line('d', 'Two', undefined, true)]

  it('stand under their headings in order', () => {
    expect(grouped(lines).map((s) => [s.name, s.lines.map((l) => l.item).join('')])).toEqual([
      ['One', 'ab'],
      ['Two', 'cd'],
    ])
    expect(grouped([])).toEqual([])
  })
  it('go on to the next that is open, round the end', () => {
    expect(nextOf(lines, 'a')).toBe('c')
    expect(nextOf(lines, 'c')).toBe('a')
    const done = [line('a', 'One', 'x'), line('b', 'One', 'y')]
    expect(nextOf(done, 'a')).toBe('b')
    expect(nextOf(done, 'b')).toBe('b')
  })
  it('say what was found, or that nobody could look', () => {
    expect(lines.map(shownAnswer)).toEqual(['', 'dry', '', "couldn't be checked"])
  })
})
