import { describe, expect, it } from 'vitest'
import { lasted, places } from './acts'

describe('practice', () => {
  it('says how long something took', () => {
    expect([0.4, 11.5, 59.4, 59.6, 125].map(lasted)).toEqual(['0 min', '12 min', '59 min', '1 h 00 min', '2 h 05 min'])
  })
  it('listens with keys that the sheet leaves free', () => {
    for (const p of places) expect(p.key).toMatch(/^[A-Z]$/)
  })
})
