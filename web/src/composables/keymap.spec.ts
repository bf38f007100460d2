// @vitest-environment jsdom
import { describe, expect, it } from 'vitest'
import { claims, focusOf, meant, type Focus, type Key } from './keymap'

/** The table: with that focus, and a field that is empty or not, does the sheet get the key? */
const table: [focus: Focus, empty: boolean, key: string, sheet: boolean, why: string][] = [
  ['page', true, 'Enter', true, 'keeps the figure, goes on'],
  ['page', true, ' ', true, 'starts the starter, turns the wheel'],
  ['page', true, '7', true, 'goes into the field'],
  ['page', true, 'x', true, 'strikes'],
  ['page', true, '?', true, 'shows the keys'],
  ['page', true, 'Escape', true, 'leaves'],
  ['button', true, 'Enter', false, 'presses the button: a link, Tick the rest, Note it, Strike, a summary'],
  ['button', true, ' ', false, 'presses the button: Print does not turn the wheel'],
  ['button', true, 'x', true, 'a button has no use for letters'],
  ['button', true, '5', true, 'nor for digits'],
  ['button', true, 'ArrowRight', true, 'nor for arrows'],
  ['button', true, '?', true, 'nor for this'],
  ['tick', true, ' ', false, 'ticks the line'],
  ['tick', true, 'Enter', true, 'goes on: a line is not ticked by Enter'],
  ['tick', true, 'a', true, 'ticks the rest'],
  ['list', true, 'Enter', false, 'opens the list'],
  ['list', true, ' ', false, 'opens the list'],
  ['list', true, 'c', false, 'picks by letter'],
  ['list', true, '1', false, 'picks by digit'],
  ['list', true, 'ArrowDown', false, 'picks the next'],
  ['list', true, 'Escape', false, 'closes the list'],
  ['list', true, 'PageDown', true, 'next step: what is picked is picked'],
  ['text', false, '?', false, 'is a question in a note'],
  ['text', true, '?', false, 'may begin one'],
  ['text', false, 'x', false, 'is a letter in the beats field'],
  ['text', false, 'ArrowLeft', false, 'moves in the words'],
  ['text', false, 'Enter', false, 'is the form’s'],
  ['text', false, 'Escape', false, 'loses nothing'],
  ['text', false, 'PageDown', false, 'loses nothing'],
  ['figure', true, '5', false, 'is typed'],
  ['figure', true, ',', false, 'is typed: a comma is as good as a point'],
  ['figure', false, '5', false, 'is typed'],
  ['figure', true, 'Enter', true, 'goes on'],
  ['figure', false, 'Enter', true, 'keeps it'],
  ['figure', false, 'x', true, 'a figure has no letters'],
  ['figure', false, 'u', true, 'changes the unit'],
  ['figure', false, '?', true, 'shows the keys'],
  ['figure', true, 'Backspace', true, 'takes the last one back'],
  ['figure', false, 'Backspace', false, 'takes a digit back'],
  ['figure', true, 'ArrowRight', true, 'next cylinder'],
  ['figure', false, 'ArrowLeft', false, 'moves in the figure: 1510 ← stays with its cylinder'],
  ['figure', false, 'ArrowDown', false, 'a half-typed figure stays with its cylinder'],
  ['figure', true, 'PageDown', true, 'next step'],
  ['figure', false, 'PageDown', false, 'a half-typed figure stays in its step'],
  ['figure', false, 'Escape', true, 'clears the field'],
]

describe('the table of keys', () => {
  it.each(table)('%s, empty %s: %s → sheet %s, %s', (focus, empty, key, sheet) => {
    expect(claims(focus, key, empty)).toBe(!sheet)
  })
})

describe('what has the focus', () => {
  it.each([
    ['<a href="/x">a</a>', 'button'],
    ['<button>b</button>', 'button'],
    ['<details><summary>c</summary></details>', 'button', 'summary'],
    ['<svg><g role="button"></g></svg>', 'button', 'g'],
    ['<input type="checkbox">', 'tick'],
    ['<input data-figure>', 'figure'],
    ['<input>', 'text'],
    ['<input type="search">', 'text'],
    ['<textarea></textarea>', 'text'],
    ['<select></select>', 'list'],
    ['<div tabindex="0"></div>', 'page'],
  ])('%s is %s', (html, focus, inner?: string) => {
    const box = document.createElement('div')
    box.innerHTML = html
    expect(focusOf(box.querySelector(inner ?? '*'))).toBe(focus)
  })
  it('is the page where nothing has it', () => expect(focusOf(document.body)).toBe('page'))
})

describe('a press', () => {
  const did: string[] = []
  const key = (...keys: string[]): Key => ({ keys, does: keys[0]!, run: () => void did.push(keys[0]!) })
  const keys = [
    key('Enter'),
    key('ArrowDown'),
    { ...key('ArrowUp'), inText: true },
    { keys: ['0…9'], does: 'the reading' },
  ]
  const found = (k: string, focus: Focus, empty = true, repeat = false) =>
    meant(keys, { key: k, focus, empty, repeat })?.does
  it('is for the first that wants it', () => expect(found('Enter', 'page')).toBe('Enter'))
  it('that is held down keeps nothing twice', () => expect(found('Enter', 'page', true, true)).toBeUndefined())
  it('that is held down moves on', () => expect(found('ArrowDown', 'page', true, true)).toBe('ArrowDown'))
  it('in words is for those that say so', () => {
    expect(found('ArrowUp', 'text')).toBe('ArrowUp')
    expect(found('ArrowDown', 'text')).toBeUndefined()
  })
  it('of a line of the help alone does nothing', () => expect(found('0…9', 'page')).toBeUndefined())
})
