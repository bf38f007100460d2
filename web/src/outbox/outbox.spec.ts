// @vitest-environment jsdom
import { describe, expect, it } from 'vitest'
import { changed, given, seen, slug } from './change'
import type { Entry, Waiting } from './disk'
import { draftSheet, engineWith, headWith, merged, type Rulebook } from './draft'
import { fieldsOf, withFields } from './mend'

const book = {
  protocol: { id: 'street', pulls: 'agree' },
  enough: 2,
  crank: { about_s: 5, most_s: 10, rest_factor: 3 },
  steps: { 'four-stroke': [{ id: 'dry', name: 'Dry' }], rotary: [{ id: 'dry', name: 'Faces' }] },
} as unknown as Rulebook

const waits = (kind: string, engine: string, body: object): Waiting => ({
  entry: { id: 'x', at: '', kind, engine, body } as unknown as Entry,
})

describe('a change', () => {
  it('holds what differs, and null for what was emptied', () => {
    const was = {
      name: 'Heron',
      bore_mm: 87,
      layout: { banks: [[1, 2]], names: { '1': 'front' } },
      limits: { leak: 5 },
    }
    const now = { name: 'Heron', bore_mm: '', stroke_mm: 90, layout: { banks: [[1, 2]] }, limits: undefined }
    expect(changed(was, now)).toEqual({ bore_mm: null, stroke_mm: 90, layout: { names: null }, limits: null })
  })
  it('laid over what it was made of, gives what it was made for', () => {
    const was = { a: 1, b: { c: 2, d: 3 }, e: [1] }
    const now = { a: 5, b: { c: 2 }, e: [1, 2], f: 'x' }
    expect(merged(was, changed(was, now))).toEqual(now)
  })
  it('leaves out what was never given', () => {
    expect(given({ name: 'x', bore_mm: '', limits: undefined, layout: { banks: [[1]] } })).toEqual({
      name: 'x',
      layout: { banks: [[1]] },
    })
  })
  it('says what was seen of the fields that it changes', () => {
    expect(seen({ a: 1, b: { c: 2, d: 3 } }, { a: 5, b: { d: null }, n: 7 })).toEqual({ a: 1, b: { d: 3 }, n: null })
  })
  it('makes an address of any name', () => {
    expect(slug('Łódź №5 / left')).toBe('d-5-left')
    expect(slug('你好')).toBe('engine')
  })
})

describe('what the server has not heard of', () => {
  const engine = {
    name: 'Siskin',
    kind: 'four-stroke',
    layout: {
      banks: [
        [1, 3],
        [2, 4],
      ],
    },
    firing_order: [1, 2, 3, 4],
  }
  const waiting = [
    waits('engine', 'siskin', engine),
    waits('engine', 'siskin', { bore_mm: 86 }),
    waits('engine', 'other', { bore_mm: 1 }),
    waits('test', 'siskin', { id: 's1', date: '2033-04-02', meter: 3 }),
    waits('test', 'siskin', { id: 's1', meter: null }),
  ]
  it('is put together from what waits', () => {
    expect(engineWith(undefined, 'siskin', waiting)).toEqual({ ...engine, bore_mm: 86, id: 'siskin' })
    expect(engineWith(undefined, 'nobody', waiting)).toBeUndefined()
    expect(headWith(undefined, 's1', waiting)).toEqual({ id: 's1', date: '2033-04-02' })
    expect(headWith(undefined, 's2', waiting)).toBeUndefined()
  })
  it('can be tested: its cylinders in bank order, the leak-down in firing order', () => {
    const rotary = draftSheet(
      { name: 'Plover', kind: 'rotary', layout: { rotors: 2 } },
      { id: 's1', date: '2031-01-10' },
      book,
    )
    expect(rotary.rotors?.map((r) => r.faces.length)).toEqual([3, 3])
    expect(rotary.prompt.cylinder).toBe(1)
    expect(rotary.steps).toEqual([{ id: 'dry', name: 'Faces' }])
    const sheet = draftSheet(engineWith(undefined, 'siskin', waiting)!, headWith(undefined, 's1', waiting)!, book)
    expect(sheet.cells.map((c) => c.cylinder)).toEqual([1, 3, 2, 4])
    expect(sheet.leak.map((c) => c.cylinder)).toEqual([1, 2, 3, 4])
    expect(sheet.leak[2]!.beside).toEqual([1])
    expect(sheet.prompt.cylinder).toBe(1)
  })
  it('asks for the next cylinder as readings wait, until all are read', () => {
    const pull = (cylinder: number) => waits('pull', 'siskin', { test: 's1', cylinder, mode: 'dry', value: 150 })
    const asked = (...read: number[]) =>
      draftSheet(engineWith(undefined, 'siskin', waiting)!, headWith(undefined, 's1', waiting)!, book, read.map(pull))
        .prompt
    expect(asked(1).cylinder).toBe(book.enough > 1 ? 1 : 3)
    const twice = (c: number) => Array.from({ length: book.enough }, () => c)
    expect(asked(...twice(1)).cylinder).toBe(3)
    expect(asked(...[1, 2, 3, 4].flatMap(twice))).toMatchObject({ cylinder: 0, say: 'every cylinder has been read' })
  })
})

describe('a refused entry', () => {
  it('is mended field by field, and a figure stays a figure', () => {
    const body = {
      value: 1510,
      unit: 'psi',
      conditions: { oil_temp_c: 80 },
      paths: [{ where: 'intake' }],
      charger: true,
    }
    const fields = fieldsOf(body)
    expect(fields).toEqual({
      value: '1510',
      unit: 'psi',
      'conditions.oil_temp_c': '80',
      paths: '[{"where":"intake"}]',
      charger: 'true',
    })
    expect(withFields(body, fields)).toEqual(body)
    expect(withFields(body, { ...fields, value: '151,5', 'conditions.oil_temp_c': 'much' })).toMatchObject({
      value: 151.5,
      conditions: { oil_temp_c: 'much' },
    })
  })
})
