import type { Schemas } from '@/api/client'

/** A row of the grid, every cell as it was typed. */
export type Row = Required<Omit<Schemas['PaperRow'], 'test' | 'was'>> & Pick<Schemas['PaperRow'], 'test' | 'was'>

/** The columns beside the cylinders, in their order on the screen: those before them, and the note behind. */
export const heads = ['date', 'meter', 'temp', 'gauge', 'what', 'unit'] as const
export type Head = (typeof heads)[number]

export const emptyRow = (key: string, cylinders: number): Row => ({
  key,
  date: '',
  meter: '',
  temp: '',
  gauge: '',
  what: '',
  unit: '',
  cells: Array.from({ length: cylinders }, () => ''),
  note: '',
})

export const isEmpty = (r: Row) =>
  [r.date, r.meter, r.temp, r.gauge, r.note, ...r.cells].every((text) => text.trim() === '')

/** What stands in a column of a row, by the column's place on the screen. */
export function textAt(row: Row, column: number): string {
  if (column < heads.length) return row[heads[column]!]
  return column < heads.length + row.cells.length ? row.cells[column - heads.length]! : row.note
}

/** The row with other text in a column. */
export function withText(row: Row, column: number, text: string): Row {
  if (column < heads.length) return { ...row, [heads[column]!]: text }
  if (column >= heads.length + row.cells.length) return { ...row, note: text }
  return { ...row, cells: row.cells.map((c, i) => (i === column - heads.length ? text : c)) }
}

/** The name of a column as faults have it: a head, a cylinder's number, the note. */
export const columnName = (column: number, cylinders: number[]): string =>
  heads[column] ?? String(cylinders[column - heads.length] ?? 'note')

/** The place on the screen of a column by its name; the first where there is none, as of a fault of the whole row. */
export function columnOf(name: string, cylinders: number[]): number {
  if (name === 'note') return heads.length + cylinders.length
  const cylinder = cylinders.indexOf(Number(name))
  return cylinder < 0 ? Math.max(0, heads.indexOf(name as Head)) : heads.length + cylinder
}

/** A block as a spreadsheet copies it: tabs between cells, a line a row; a quoted cell may hold tabs and line breaks. */
export function blockOf(text: string): string[][] {
  const rows: string[][] = [[]]
  let cell = ''
  let quoted = false
  const end = () => {
    rows.at(-1)!.push(cell.trim())
    cell = ''
  }
  for (let i = 0; i < text.length; i++) {
    const sign = text[i]!
    if (quoted) {
      if (sign !== '"') cell += sign === '\n' || sign === '\r' ? ' ' : sign
      else if (text[i + 1] === '"') cell += text[++i]!
      else quoted = false
    } else if (sign === '"' && cell === '') quoted = true
    else if (sign === '\t') end()
    else if (sign === '\n') {
      end()
      rows.push([])
    } else if (sign !== '\r') cell += sign
  }
  end()
  return rows.filter((row, i) => i < rows.length - 1 || row.some((c) => c !== ''))
}

/** Words by which people head their columns. */
const known: [RegExp, string][] = [
  [/^date|^day$/, 'date'],
  [/^meter|^hours?$|^km$|^miles?$|^runs?$/, 'meter'],
  [/^temp|^hot|^cold/, 'temp'],
  [/^gauge|^tester/, 'gauge'],
  [/^what|^kind|^test$/, 'what'],
  [/^unit/, 'unit'],
  [/^note|^remark/, 'note'],
]

/** The columns that the first line of a block names, if it names the date and nothing of it is a reading; else undefined. */
export function headed(line: string[], cylinders: number[]): (number | undefined)[] | undefined {
  const columns = line.map((text) => {
    const word = text.toLowerCase().trim()
    const name = known.find(([is]) => is.test(word))?.[1]
    if (name === 'note') return heads.length + cylinders.length
    if (name) return heads.indexOf(name as Head)
    const number = /^(?:cyl(?:inder)?\.?|no\.?|#|c)?\s*(\d+)$/.exec(word)
    const at = number ? cylinders.indexOf(Number(number[1])) : -1
    return at < 0 ? undefined : heads.length + at
  })
  return columns.includes(0) ? columns : undefined
}

/**
 * Lays a block over the rows from a place on: what is beyond the last column is left out, what is beyond the last row makes new
 * ones. A block whose first line names its columns goes to those.
 */
export function pasted(
  rows: Row[],
  at: { row: number; column: number },
  block: string[][],
  cylinders: number[],
  fresh: () => Row,
): Row[] {
  const named = headed(block[0] ?? [], cylinders)
  const lines = named ? block.slice(1) : block
  const next = [...rows]
  lines.forEach((line, i) => {
    const r = at.row + i
    while (next.length <= r) next.push(fresh())
    line.forEach((text, k) => {
      const column = named ? named[k] : at.column + k
      if (column !== undefined && column <= heads.length + cylinders.length) next[r] = withText(next[r]!, column, text)
    })
  })
  return next
}
