import { beforeEach, describe, expect, it } from 'vitest'
import { asTyped, choice, fromField, inField, own, pressureOr, shownIn, unitFor, withUnit, workshops } from './shown'
import { longDate, longTime } from './useFormat'

const american = {
  pressure: 'psi',
  temperature: '°F',
  length: 'in',
  height: 'ft',
  air: 'inHg',
  volume: 'ci',
  distance: 'mi',
  clock: '12',
  dates: 'month-day',
} as const

describe('units as they were chosen', () => {
  beforeEach(() => {
    own.value = {}
    workshops.value = {}
  })

  it('lets one’s own choice stand above the workshop’s', () => {
    workshops.value = { pressure: 'bar', length: 'in' }
    own.value = { pressure: 'kPa' }
    expect(choice.value).toEqual({ pressure: 'kPa', length: 'in' })
    expect(pressureOr('psi')).toBe('kPa')
  })

  it('leaves everything as it is where nothing was chosen', () => {
    expect(withUnit(82.55, 'mm')).toBe('82.55 mm')
    expect(withUnit(0.127, 'mm')).toBe('0.127 mm')
    expect(withUnit(0.05, 'ppm')).toBe('0.05 ppm')
    expect(pressureOr('psi')).toBe('psi')
    expect(inField(29.44444, '°C')).toBe('29.44444')
    expect(fromField('3.25 in', 'mm')).toBe(82.55)
  })

  it('shows the log’s figures in the chosen unit', () => {
    own.value = american
    expect(withUnit(82.55, 'mm')).toBe('3.25 in')
    expect(withUnit(101.3, 'kPa')).toBe('29.91 inHg')
    expect(unitFor('kPa', 'pressure')).toBe('psi')
    expect(unitFor('psi')).toBe('psi')
    expect(shownIn(20000, 'km')).toBe('12,427')
    expect(unitFor('V')).toBe('V')
  })

  // Whatever is typed in any unit comes back as it was typed, after it was kept in the log's.
  it('gives back what was typed', () => {
    own.value = american
    const typed: [string, string][] = [
      ['3.25', 'mm'],
      ['3.7795', 'mm'],
      ['0.0065', 'mm'],
      ['0.00665', 'mm'],
      ['185', '°C'],
      ['-40', '°C'],
      ['71.5', '°C'],
      ['689', 'm'],
      ['29.92', 'kPa'],
      ['350', 'cc'],
      ['12500', 'km'],
      ['0', 'mm'],
    ]
    for (const [text, unit] of typed) expect(inField(fromField(text, unit)!, unit), `${text} for ${unit}`).toBe(text)
  })

  // With the text as it was typed on record, it stands in a field in whatever unit is shown, as long as it means the figure.
  it('keeps what was typed', () => {
    expect(asTyped('3.25 in', 'mm')).toBe('3.25 in')
    expect(asTyped('3,25"', 'mm')).toBe('3,25 in')
    expect(asTyped('82.55', 'mm')).toBe('')
    expect(asTyped('82.55 mm', 'mm')).toBe('')
    expect(asTyped('', 'mm')).toBe('')
    expect(inField(82.55, 'mm', undefined, '3.25 in')).toBe('3.25 in')
    expect(inField(90, 'mm', undefined, '3.25 in')).toBe('90')
    own.value = american
    expect(asTyped('3.25', 'mm')).toBe('3.25 in')
    expect(asTyped('82.55 mm', 'mm')).toBe('')
    expect(inField(0.168, 'mm', undefined, '0.00661417 in')).toBe('0.00661417')
    own.value = { length: 'mm' }
    expect(inField(82.55, 'mm', undefined, '3.25 in')).toBe('3.25 in')
  })

  it('does not write more digits than mean something', () => {
    own.value = american
    expect(inField(210, 'm')).toBe('689')
    expect(inField(87, 'mm')).toBe('3.4252')
    expect(inField(20, '°C')).toBe('68')
  })

  it('reads what is no figure, or of something else, as none', () => {
    own.value = american
    expect(fromField('', 'mm')).toBeUndefined()
    expect(fromField('wide', 'mm')).toBeNaN()
    expect(fromField('85 F', 'mm')).toBeNaN()
  })

  it('writes dates and times as the reader has them', () => {
    const at = new Date(2033, 3, 2, 14, 5).toISOString()
    expect(longDate('2033-04-02')).toBe('2 Apr 2033')
    expect(longTime(at)).toBe('2 Apr 2033, 14:05')
    own.value = american
    expect(longDate('2033-04-02')).toBe('Apr 2, 2033')
    expect(longTime(at)).toMatch(/^Apr 2, 2033, 2:05\sPM$/)
  })
})
