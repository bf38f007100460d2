import { ref } from 'vue'
import { practice } from '@/api/base'
import type { Entry } from './disk'
import { sayer } from '@/words/say'
import texts from '@/words/en/outbox.json'

const says = sayer(texts)

/** What this device entered last, so that it can be undone from any page. */
export interface Mine {
  id: string
  engine?: string
  kind: Entry['kind']
  words: string
  test?: string
  /** What was entered by one act has one name, and is undone together. */
  act?: string
}

const key = practice ? 'braxel.practice.mine' : 'braxel.mine'
const most = 120

/** The list, also where the browser stores nothing: then for as long as the page is open. */
let held: Mine[] | undefined

function read(): Mine[] {
  try {
    return held ?? (JSON.parse(localStorage.getItem(key) ?? '[]') as Mine[])
  } catch {
    return []
  }
}
function write(list: Mine[]) {
  const some = list.slice(-most)
  try {
    localStorage.setItem(key, JSON.stringify(some))
    held = undefined
  } catch {
    held = some
  }
  count.value = list.length
}
export const count = ref(read().length)

/** Remembers what was entered by one act; what is entered once more, by the same names, is there already. */
export function remember(entries: Entry[]) {
  const have = read()
  const fresh = entries.filter((e) => !have.some((m) => m.id === e.id))
  write([
    ...have,
    ...fresh.map((entry) => ({
      id: entry.id,
      engine: entry.engine,
      kind: entry.kind,
      words: wordsOf(entry),
      test: (entry.body as { test?: string }).test,
      act: entries[0]!.id,
    })),
  ])
}

/** Takes what the last act entered off the list, the last first. */
export function last(): Mine[] {
  const list = read()
  const one = list.at(-1)
  if (!one) return []
  const together = (m: Mine) => m.id === one.id || (!!one.act && m.act === one.act)
  write(list.filter((m) => !together(m)))
  return list.filter(together).reverse()
}

/** What this device entered of a kind in a test, in order. */
export function mineIn(engine: string, test: string, kind: Entry['kind']): string[] {
  return read().flatMap((m) => (m.engine === engine && m.test === test && m.kind === kind ? [m.id] : []))
}

export function forget(id: string) {
  write(read().filter((m) => m.id !== id))
}

const names: Record<Entry['kind'], string> = {
  engine: says('engine'),
  build: says('build'),
  event: says('event'),
  note: says('note'),
  test: says('test-details'),
  whole: says('test'),
  pull: says('reading'),
  leakdown: says('leak-down'),
  look: says('finding'),
  photo: says('photo'),
  tick: says('tick'),
  strike: says('strike'),
  unstrike: says('strike-undone'),
  move: says('move'),
  'as-read': says('confirmation'),
  tester: says('tester'),
  plan: says('interval'),
  rule: says('rule'),
  units: says('units'),
  columns: says('columns'),
  'put-off': says('postponement'),
  protocol: says('protocol'),
  meeting: says('season-event'),
  car: says('season-car'),
  start: says('season-start'),
  job: says('season-job'),
  terms: says('season-terms'),
}

/** An entry in a few words, for a list of what waits. */
export function wordsOf(entry: Entry): string {
  const b = entry.body as Record<string, unknown>
  const place = b.cylinder ? says('of', { cylinder: String(b.cylinder) }) : ''
  switch (entry.kind) {
    case 'pull':
      return `${String(b.value)} ${String(b.unit)}${place}, ${String(b.mode)}`
    case 'leakdown':
      return says('leak-down-of', {
        place,
        supply: String(b.supply),
        held: b.held === undefined ? `${String(b.pct)} %` : says('held', { held: String(b.held) }),
      })
    case 'look':
      return [`${String(b.what)}${place}`, b.finding, b.value, b.unit, b.note].filter(Boolean).join(', ')
    case 'tick':
      return says(b.done ? 'ticked' : 'unticked', { line: String(b.line) })
    case 'strike':
      return says('strike-why', { why: String(b.why) })
  }
  const said =
    b.name ??
    b.what ??
    b.text ??
    b.note ??
    Object.keys(b)
      .filter((k) => k !== 'id')
      .join(', ')
  return `${names[entry.kind]}: ${String(said).replaceAll('_', ' ')}`
}
