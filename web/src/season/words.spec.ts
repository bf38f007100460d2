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

describe('what a cell says to somebody who does not see it', () => {
  const cell = { meeting: 'm', car: 'c', chance: 0.93, level: 'near' as const }
  it('names the engine, the event and the chance', () => {
    expect(heard(cell, 'Heron', 'Quarry Hill', 'h')).toBe('Heron, Quarry Hill, 93 percent')
  })
  it('says what it ran, once that is known', () => {
    expect(heard({ ...cell, ran: 2.3 }, 'Heron', 'Quarry Hill', 'h')).toBe('Heron, Quarry Hill, ran 2.3 h')
  })
  it('says that it does not run, and the work on it all the same', () => {
    const jobs = [{ id: 'j', work: 'freshen' as const }]
    expect(heard({ meeting: 'm', jobs }, 'Heron', 'Quarry Hill')).toBe("Heron, Quarry Hill, doesn't run, freshen")
  })
})
