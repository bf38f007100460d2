// @vitest-environment jsdom
import { describe, expect, it } from 'vitest'
import { many, outcome, refusedAsSheet } from './form'

const imported = { engine: 'a', name: 'A', new: 3, tests: ['2033-01-01'], here: 0, differs: [] }

describe('what comes of a log', () => {
  it('is said in a sentence', () => {
    expect(outcome(imported, false)).toBe('one test')
    expect(outcome({ ...imported, begun: true, here: 2 }, true)).toBe(
      'a new engine, one test imported; 2 tests already here',
    )
    expect(outcome({ ...imported, new: 0, tests: [] }, false)).toBe('all of it is here already')
    expect(many(0, 'row')).toBe('0 rows')
  })
})

describe('refused rows', () => {
  it('are saved so that no spreadsheet runs them', async () => {
    const text = await refusedAsSheet([
      { row: 4, column: 'Left "kPa"', text: '=CMD()', why: 'a formula' },
      { row: 9, why: '-5 is less' },
    ]).text()
    expect(text.split('\r\n')[1]).toBe(`"4","Left ""kPa""","'=CMD()","a formula"`)
    expect(text.split('\r\n')[2]).toBe(`"9","","","'-5 is less"`)
  })
})
