import { describe, expect, it } from 'vitest'
import { rounded, sayer } from './say'

const says = sayer({ kept: { one: 'one test', other: '{n} tests' }, of: '{a} of {b}' })

describe('the words of a page', () => {
  it('take their values, and the form that the count asks for', () => {
    expect(says('kept', { n: 1 })).toBe('one test')
    expect(says('kept', { n: 0 })).toBe('0 tests')
    expect(says('of', { a: 2, b: 'four' })).toBe('2 of four')
  })
  it('stand around a value that is shown in its own way', () => {
    expect(says.around('of', 'b', { a: 2 })).toEqual(['2 of ', ''])
    expect(says.around('of', 'a', { b: 'four' })).toEqual(['', ' of four'])
  })
  it('leave out a value that nobody gave', () => {
    expect(says('of', { a: 2, b: undefined })).toBe('2 of ')
  })
})

describe('numbers', () => {
  it('have the decimals that are asked for, and groups from five digits on', () => {
    expect(rounded(5.27, 1)).toBe('5.3')
    expect(rounded(9800, 0)).toBe('9800')
    expect(rounded(undefined, 1)).toBeUndefined()
    expect(says('of', { a: 128000, b: 0.72 })).toBe('128,000 of 0.72')
  })
})
