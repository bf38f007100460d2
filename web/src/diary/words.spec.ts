import { describe, expect, it } from 'vitest'
import { dueWords, whenOf } from './words'

const item = {
  id: 'test.s1',
  engine: 'e',
  name: 'E',
  kind: 'test',
  what: 'test it',
  why: 'its duty',
  standing: 'later',
} as const

describe('when something is due', () => {
  it('is said by the meter and by the day, as far as they are known', () => {
    expect(whenOf({ ...item, by: '2033-05-03', meter: 45.2, unit: 'h' })).toBe('by 45 h or by 3 May 2033')
    expect(whenOf({ ...item, by: '2033-05-03' })).toBe('by 3 May 2033')
    expect(whenOf(item)).toBe('any time')
    expect(dueWords({ ...item, standing: 'now', by: '2033-05-03' })).toBe('test it, due today')
  })
  it('says why it is overdue', () => {
    expect(whenOf({ ...item, standing: 'overdue', by: '2033-05-03' })).toBe('overdue since 3 May 2033')
    const reached = { ...item, standing: 'overdue', by: '2033-05-03', meter: 45, unit: 'h', reached: true } as const
    expect(whenOf(reached)).toBe('overdue since 45 h')
  })
  it('says until when it was put off', () => {
    expect(whenOf({ ...item, standing: 'put off', put_off: '2033-06-01' })).toBe('postponed until 1 Jun 2033')
  })
})
