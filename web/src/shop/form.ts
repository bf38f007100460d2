import { api, ask, type Schemas } from '@/api/client'
import { asForm } from '@/api/form'
import { sayer } from '@/words/say'
import texts from '@/words/en/import.json'

const says = sayer(texts)

export type Picks = Schemas['Picks']

/** What is handed in with a file: corrections of the guess, the engine that it is of, and what is taken as the file has it. */
export interface Handing {
  file: File
  picks: Picks
  theirs: Record<number, string[]>
  /** What its progress is asked for by. */
  job: string
}

/** Hands a file in: to be looked at, or to be taken in. */
export function handIn(how: 'read' | 'take', { file, picks, theirs, job }: Handing): Promise<Schemas['ImportPage']> {
  const options = asForm({ picks: JSON.stringify(picks), theirs: JSON.stringify(theirs), job, file })
  return ask(how === 'read' ? api.POST('/api/import/read', options) : api.POST('/api/import/take', options))
}

/** Corrections with more of them: those that are made last count. */
export function merged(picks: Picks, more: Picks): Picks {
  const columns = [
    ...(picks.columns ?? []).filter(
      (c) => !more.columns?.some((m) => m.index === c.index && (m.sheet ?? 0) === (c.sheet ?? 0)),
    ),
    ...(more.columns ?? []),
  ]
  const given = Object.fromEntries(Object.entries(more).filter(([, v]) => v !== undefined))
  return {
    ...picks,
    ...given,
    ...(columns.length ? { columns } : {}),
    ...(picks.engines || more.engines ? { engines: { ...picks.engines, ...more.engines } } : {}),
  }
}

/** The corrections of columns that are to be remembered: by the headings of each sheet that has some. */
export function corrections(sheets: Schemas['SheetShown'][], picks: Picks): Schemas['SheetColumns'][] {
  return sheets.flatMap(({ guess }, n) => {
    const mine = (picks.columns ?? []).filter((c) => (c.sheet ?? 0) === n)
    if (!mine.length) return []
    const headings = guess.columns.map((c) => c.header).join(' · ')
    const columns = guess.columns
      .filter((c) => guess.learned || mine.some((m) => m.index === c.index))
      .map(({ index, means, cylinder, kind, unit, percent }) => ({ index, means, cylinder, kind, unit, percent }))
    return [{ id: guess.key, headings: headings.slice(0, 2000), columns }]
  })
}

/** What columns may be taken for, in words. */
export const meanings: Record<Schemas['Column']['means'], string> = {
  date: says('day-2'),
  reading: says('readings'),
  cylinder: says('which-cylinder'),
  kind: says('dry-wet-or-leak'),
  meter: says('meter'),
  note: says('note'),
  supply: says('supplied'),
  held: says('held'),
  place: says('air-heard-at'),
  level: says('how-loud'),
  unit: says('unit'),
  attempt: says('which-reading'),
  engine: says('engine'),
  bank: says('bank'),
  visit: says('which-test'),
  stage: says('occasion'),
  temp: says('hot-or-cold'),
  gauge: says('gauge'),
  operator: says('who-tested'),
  skip: says('ignored'),
}

/** A cell that no spreadsheet works out. */
const inert = (text: string) =>
  /^[\t\r\n]|^[\s\uFEFF]*[=+\-@−]/.test(text.normalize('NFKC')) && Number.isNaN(Number(text)) ? `'${text}` : text
const quoted = (text: string) => `"${inert(text).replaceAll('"', '""')}"`

/** The refused rows as a sheet, to be mended: where each stood, what stood there, and why it was not taken. */
export function refusedAsSheet(refused: Schemas['Refused'][]): Blob {
  const lines = [['row', 'column', says('what-says'), says('why-was-refused')]].concat(
    refused.map((r) => [String(r.row), r.column ?? '', r.text ?? '', r.why]),
  )
  return new Blob([`\ufeff${lines.map((l) => l.map(quoted).join(',')).join('\r\n')}\r\n`], { type: 'text/csv' })
}

export function save(blob: Blob, name: string) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(blob)
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}

/** How many, with their noun: "one test", "3 tests". */
export const many = (n: number, noun: 'test' | 'thing' | 'row' | 'log' | 'engine') => says(`n-${noun}s`, { n })

/** What comes of a log, in a sentence. */
export function outcome(done: Schemas['Imported'], taken: boolean): string {
  if (done.new === 0) return done.differs.length ? says('already-here-but-different') : says('all-here-already')
  const begun = done.begun ? says('new-engine') : ''
  const tests = many(done.tests.length, 'test')
  const beside = done.here ? says('already-here-2', { test: many(done.here, 'test') }) : ''
  return `${begun}${tests}${taken ? says('imported') : ''}${beside}`
}
