import { describe, expect, it } from 'vitest'
import { blockOf, columnName, columnOf, emptyRow, headed, heads, isEmpty, pasted, textAt, withText } from './grid'

const v4 = [1, 3, 2, 4] // two banks: the columns stand as the engine does
let n = 0
const fresh = () => emptyRow(`k${n++}`, v4.length)

describe('a block from a spreadsheet', () => {
  it('is cells between tabs', () => expect(blockOf('1\t2\r\n3\t4\r\n')).toEqual([['1', '2'], ['3', '4']])) // prettier-ignore
  it('keeps empty cells and rows inside', () => expect(blockOf('1\t\n\n\t2')).toEqual([['1', ''], [''], ['', '2']])) // prettier-ignore
  it('may quote what holds a tab, a break or a quote', () =>
    expect(blockOf('"a\tb"\t"say ""so"""\t"two\nlines"')).toEqual([['a\tb', 'say "so"', 'two lines']]))
  it('says by its first line which columns it has', () => {
    expect(headed(['Date', 'Hours', 'cyl 1', '#2', 'Notes', 'weather'], v4)).toEqual([0, 1, 6, 8, 10, undefined])
    expect(headed(['2031-04-02', '145'], v4)).toBeUndefined()
    expect(headed(['1', '2', '3', '4'], v4)).toBeUndefined() // readings may look so
  })
})

describe('a cell', () => {
  it('reads back what was put there, in every column, and changes no other', () => {
    for (let c = 0; c <= heads.length + v4.length; c++) {
      const row = withText(fresh(), c, 'x')
      for (let o = 0; o <= heads.length + v4.length; o++) expect(textAt(row, o)).toBe(o === c ? 'x' : '')
    }
  })
  it('is named as its faults are', () =>
    expect([0, 3, 6, 7, 10].map((c) => columnName(c, v4))).toEqual(['date', 'gauge', '1', '3', 'note']))
  it('is found by that name again', () => {
    for (let c = 0; c <= heads.length + v4.length; c++) expect(columnOf(columnName(c, v4), v4)).toBe(c)
    expect(columnOf('cells', v4)).toBe(0)
  })
})

describe('pasting', () => {
  it('goes right and down from where it is, and makes rows', () => {
    const rows = pasted([fresh()], { row: 0, column: 6 }, blockOf('145\t146\n147\t148'), v4, fresh)
    expect(rows.map((r) => r.cells)).toEqual([['145', '146', '', ''], ['147', '148', '', '']]) // prettier-ignore
  })
  it('goes to the columns that its first line names, in their order', () => {
    const rows = pasted(
      [fresh()],
      { row: 0, column: 3 },
      blockOf('Date\t1\t2\t3\t4\n2031-04-02\t101\t102\t103\t104'),
      v4,
      fresh,
    )
    expect(rows).toHaveLength(1)
    expect(rows[0]!.date).toBe('2031-04-02')
    expect(rows[0]!.cells).toEqual(['101', '103', '102', '104'])
  })
  it('loses no cell that it does not cover', () => {
    const before = withText(withText(fresh(), 0, '2.4.31'), 9, '99')
    const [row] = pasted([before], { row: 0, column: 6 }, [['1']], v4, fresh)
    expect([row!.date, row!.cells]).toEqual(['2.4.31', ['1', '', '', '99']])
  })
  it('leaves out what is beyond the last column', () => {
    const [row] = pasted([fresh()], { row: 0, column: 10 }, [['note', 'beyond']], v4, fresh)
    expect(row!.note).toBe('note')
  })
  it('of nothing leaves a row empty', () => expect(isEmpty(fresh())).toBe(true))
})
