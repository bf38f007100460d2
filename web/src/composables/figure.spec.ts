import { describe, expect, it } from 'vitest'
import { figureOf, figuresOf, pressureUnits, typedOn, unitAfter } from './figure'

describe('a figure', () => {
  it.each([
    ['151', 151],
    ['6,5', 6.5],
    ['6.5', 6.5],
    [' 6,5 ', 6.5],
    [',5', 0.5],
    ['5,', 5],
    ['-40', -40],
    ['0', 0],
  ])('%s is %d', (text, value) => expect(figureOf(text)).toBe(value))
  it.each(['1,5,2', '1.510,5', '12a', '1e3', '0x10', 'Infinity', ',', '-', '1 5', '٣'])('%s is none', (text) =>
    expect(figureOf(text)).toBeNaN(),
  )
  it('is not there where nothing was typed', () => expect(figureOf('  ')).toBeUndefined())
})

it('a line of figures may have commas, and says which is none', () => {
  expect(figuresOf('6,5 7.1;8')).toEqual([6.5, 7.1, 8])
  expect(figuresOf('150 x 148')[1]).toBeNaN()
  expect(figuresOf('  ')).toEqual([])
})

describe('a pad', () => {
  it('types a comma or a point once', () => expect([...'1.2,3.4'].reduce(typedOn, '')).toBe('1.234'))
  it('types nothing else', () => expect(['e', '-', 'Enter', '12'].reduce(typedOn, '7')).toBe('7'))
})

it('the key for the unit goes round all of them', () => {
  let unit = pressureUnits[0] as (typeof pressureUnits)[number]
  const seen = pressureUnits.map(() => (unit = unitAfter(unit)))
  expect(new Set(seen)).toEqual(new Set(pressureUnits))
})
