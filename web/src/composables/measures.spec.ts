import { describe, expect, it } from 'vitest'
import { measured, unitIn } from './measures'

describe('a figure with its unit', () => {
  it.each([
    ['3.25 in', 'mm', 82.55],
    ['3,25"', 'mm', 82.55],
    ['82.55', 'mm', 82.55],
    ['82.55 mm', 'mm', 82.55],
    ['85 F', '°C', 29.44444],
    ['-40°F', '°C', -40],
    ['21 c', '°C', 21],
    ['29.9 inHg', 'kPa', 101.253],
    ['1013 mbar', 'kPa', 101.3],
    ['700 ft', 'm', 213.36],
    ['350 ci', 'cc', 5735.472],
    ['350 cu in', 'cc', 5735.472],
    ['29.9 in Hg', 'kPa', 101.253],
    ['60 ft-lb', 'Nm', 81.349],
    ['5.7 l', 'cc', 5700],
    ['16 thou', 'mm', 0.4064],
    ['10 bar', 'psi', 145.0377],
  ])('%s in a field of %s', (typed, unit, figure) => {
    expect(measured(typed, unit)).toBeCloseTo(figure, 3)
  })
  it('of something else, or of nothing, is none', () => {
    for (const [typed, unit] of [
      ['85 F', 'mm'],
      ['3 in', 'kPa'],
      ['12 apples', 'mm'],
      ['in', 'mm'],
      ['3.2.5 in', 'mm'],
    ] as const)
      expect(measured(typed, unit)).toBeNaN()
    expect(measured('', 'mm')).toBeUndefined()
    expect(measured('12 h', 'h')).toBe(12)
  })
  it('finds the unit of a field by its label', () => {
    expect(unitIn('Bore, mm')).toBe('mm')
    expect(unitIn('Altitude, m')).toBe('m')
    expect(unitIn('Air temperature, °C')).toBe('°C')
    expect(unitIn('Compression ratio')).toBeUndefined()
  })
})
