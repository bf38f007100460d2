import { describe, expect, it } from 'vitest'
import { heard, percent, running } from './words'

describe('a chance as a figure', () => {
  it('is whole percents, and never a certainty', () => {
    expect(percent(0.934)).toBe('93')
    expect(percent(1)).toBe('99')
    expect(percent(0)).toBe('1')
  })
})

describe('running', () => {
  it('has a tenth where it needs one', () => {
    expect(running(3)).toBe('3')
    expect(running(2.34)).toBe('2.3')
  })
})

describe('which cell it is', () => {
  it('names the engine and the event, and whether it runs there', () => {
    expect(heard({ meeting: 'm', car: 'c' }, 'Heron', 'Quarry Hill')).toBe('Heron, Quarry Hill: ')
    expect(heard({ meeting: 'm' }, 'Heron', 'Quarry Hill')).toBe("Heron, Quarry Hill, doesn't run: ")
  })
})
