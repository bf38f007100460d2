import { describe, expect, it } from 'vitest'
import { latest } from './latest'
import { listed, namesOf } from './lists'
import { pasted } from './figure'

describe('a list of numbers', () => {
  it.each([
    ['1 3 4 2', [1, 3, 4, 2]],
    ['1-3-4-2', [1, 3, 4, 2]],
    ['1, 3; 4/2', [1, 3, 4, 2]],
    ['270° 450°', [270, 450]],
    ['', []],
  ])('“%s” is read', (text, numbers) => expect(listed(text)).toEqual({ numbers, none: undefined }))
  it.each([
    ['a b c', 'a'],
    ['1 3 x 2', 'x'],
    ['abc', 'abc'],
  ])('“%s” is not dropped in silence', (text, none) => expect(listed(text).none).toBe(none))
})

describe('names of cylinders', () => {
  it('begin with the number', () => {
    expect(namesOf('1 front left, 2: front right')).toEqual({ names: { '1': 'front left', '2': 'front right' } })
    expect(namesOf('').none).toBeUndefined()
  })
  it.each(['front', '1', 'front 1', '1 left, rear'])('“%s” is not dropped in silence', (text) =>
    expect(namesOf(text).none).toBeTruthy(),
  )
})

describe('a figure that is pasted', () => {
  it.each([
    ['172 psi', { figure: '172', unit: 'psi' }],
    [' 172 ', { figure: '172' }],
    ['11,8 bar', { figure: '11,8', unit: 'bar' }],
    ['12.1 kgf/cm²', { figure: '12.1', unit: 'kgf/cm2' }],
    ['1190 KPA', { figure: '1190', unit: 'kPa' }],
    ['6 %', { figure: '6' }],
  ])('“%s” is read', (text, read) => expect(pasted(text)).toEqual(read))
  it.each(['psi', '172 furlongs', '1 2', 'about 172', '1e3', ''])('“%s” is none', (text) =>
    expect(pasted(text)).toBeUndefined(),
  )
})

it('a late answer does not stand in the place of a newer one', async () => {
  const answers: (() => void)[] = []
  const took: string[] = []
  const ask = latest(
    (asked: string) => new Promise<string>((resolve) => answers.push(() => resolve(asked))),
    (v) => took.push(v),
  )
  const both = [ask('first'), ask('second')]
  answers[1]!()
  answers[0]!()
  await Promise.all(both)
  expect(took).toEqual(['second'])
})
