import { nanoid } from 'nanoid'
import { computed, ref, shallowRef, watch } from 'vue'
import { base, practice } from '@/api/base'
import type { Problem, Schemas } from '@/api/client'
import { askPerson } from './asking'
import { heardFrom, stamp } from '@/api/clock'
import { heard, locked } from '@/api/door'
import { disk, lease, leaseIn, release, tab, type Answer, type Entry, type Waiting } from './disk'
import { remember } from './mine'
import { sayer } from '@/words/say'
import texts from '@/words/en/outbox.json'

const says = sayer(texts)

export type { Answer, Entry, Waiting } from './disk'
export type Kind = Entry['kind']
type BodyOf<K extends Kind> = Extract<Entry, { kind: K }>['body']

/** What is typed of an entry; its name, its time and who typed it are added here. */
export type Typed<K extends Kind = Kind> = {
  [P in K]: {
    /** Made when its form was opened: handed in any number of times, it counts once. */
    id?: string
    kind: P
    engine?: string
    body: BodyOf<P>
    was?: Record<string, unknown>
    sure?: boolean
  }
}[K]

/** What became of an entry: kept or refused by the server, or waiting for it. */
export type Outcome = { is: 'kept' | 'refused' | 'waiting'; entry: Entry; answer?: Answer }

type Sheet = Schemas['Sheet']
/** The engines that changed, "" for the workshop; all that is shown, where nobody knows what was missed. */
export type News = { engines: string[]; sheet?: Sheet; seats?: Schemas['Seat'][]; gauges?: true; all?: true }

const onDisk = shallowRef<Waiting[]>([])
/** What this browser could not store: it is in this page alone, and goes straight to the server. */
const loose = shallowRef<Waiting[]>([])
/** This browser stores nothing: its storage is full, or refused. */
export const storesNothing = ref(false)
/** Entries on their way to the disk: what is typed next must know of them. */
const writing = shallowRef<Waiting[]>([])
const all = computed(() => {
  const there = new Set(onDisk.value.map((w) => w.entry.id))
  return [...onDisk.value, ...loose.value, ...writing.value.filter((w) => !there.has(w.entry.id))]
})
const unreachable = ref(false)
const listeners = new Set<(news: News) => void>()
const answers = new Map<string, Answer>()
/** The sheet that is open in this tab: the answer to its entries brings it along. */
let open: { engine: string; test: string } | undefined

/** A word between the tabs of this browser: the outbox has changed, or something was answered. */
interface Word {
  from: string
  answered?: Answer[]
  news?: News
  unreachable?: boolean
}
const channel =
  typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel(practice ? 'braxel-practice' : 'braxel')
channel?.addEventListener('message', (event: MessageEvent<Word>) => {
  for (const a of event.data.answered ?? []) answers.set(a.id, a)
  if (event.data.unreachable !== undefined) unreachable.value = event.data.unreachable
  if (event.data.news) listeners.forEach((listen) => listen(event.data.news!))
  void load()
})
const say = (word: Omit<Word, 'from'> = {}) => channel?.postMessage({ from: tab, ...word })

async function load() {
  try {
    onDisk.value = await (await disk).getAll('outbox')
  } catch {
    storesNothing.value = true
  }
}

/** Who signs what is typed on this device. */
export function device(): string {
  try {
    const have = localStorage.getItem('braxel.by')
    if (have) return have
    localStorage.setItem('braxel.by', unnamed)
  } catch {
    // It is called so for as long as the page is open.
  }
  return unnamed
}
const unnamed = `${/Mobi|Android/.test(navigator.userAgent) ? 'phone' : 'computer'} ${nanoid(3)}`

const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

const named = (typed: Typed): Entry => plain({ ...stamp(), by: device(), ...typed, id: typed.id ?? nanoid() } as Entry)

/** Enters something: on this device's disk first, then on its way. It answers when the server has, or when that is away. */
export async function tell(typed: Typed, picture?: Blob): Promise<Outcome> {
  return (await tellAll([typed], picture))[0]!
}

/** Enters several things, all of them on this device's disk before any is on its way. */
export async function tellAll(typed: Typed[], picture?: Blob): Promise<Outcome[]> {
  const entries = typed.map(named)
  const fresh = entries.filter(
    (e) => !all.value.some((w) => w.entry.id === e.id) && answers.get(e.id)?.result !== 'kept',
  )
  if (fresh.length) await write(fresh, picture)
  await flush()
  return sure(await Promise.all(entries.map(outcome)))
}

/** What may be a slip of the hand is asked about, once for all of it; if it is so, it is handed in as sure. */
async function sure(came: Outcome[]): Promise<Outcome[]> {
  const asked = came.filter((o) => o.is === 'refused' && o.answer?.ask)
  if (asked.length === 0) return came
  const more = asked.length > 1 ? says('more-like', { asked: asked.length - 1 }) : ''
  if (!(await askPerson(`${asked[0]!.answer?.why ?? ''}${more}`))) return came
  for (const { entry } of asked) await again(entry.id, { sure: true })
  return Promise.all(came.map((o) => (asked.includes(o) ? outcome(o.entry) : o)))
}

async function write(entries: Entry[], picture?: Blob) {
  writing.value = [...writing.value, ...entries.map((entry) => ({ entry }))]
  try {
    const tx = (await disk).transaction(['outbox', 'pictures', 'leases'], 'readwrite')
    if (picture) void tx.objectStore('pictures').put({ id: entries[0]!.id, picture })
    // Whoever writes is mostly who sends: the same transaction asks for both, and for both at once.
    const [mine, ...written] = await Promise.all([
      leaseIn(tx.objectStore('leases'), 'sender', sendingFor),
      ...entries.map(async (entry) => ({ n: await tx.objectStore('outbox').add({ entry }), entry })),
    ])
    tx.commit()
    await tx.done
    holds ||= mine
    onDisk.value = [...onDisk.value, ...written]
    storesNothing.value = false
  } catch {
    // The storage is full, or the browser has none: it is held here, and sent at once.
    storesNothing.value = true
    loose.value = [
      ...loose.value,
      ...entries.map((entry, i) => ({ entry, loose: true as const, ...(i ? {} : { picture }) })),
    ]
  }
  remember(entries)
  writing.value = writing.value.filter((w) => !entries.some((e) => e.id === w.entry.id))
  say()
}

/** What is said of an entry that is nowhere but in its field. */
const nowhere = says('browser-cant-store-anything-braxel')

/**
 * How long an answer to another tab's sending is waited for: longer than it waits itself. What this tab sends is waited for as long as it is
 * under way, so that a late refusal still finds its field.
 */
const patient = 12_000

async function outcome(entry: Entry): Promise<Outcome> {
  for (const end = performance.now() + patient; ;) {
    const waiting = all.value.find((w) => w.entry.id === entry.id)
    if (!waiting) return { is: 'kept', entry, answer: answers.get(entry.id) }
    if (waiting.refused) return { is: 'refused', entry, answer: waiting.refused }
    if (unreachable.value || locked.value || performance.now() > end) {
      if (waiting.loose) return { is: 'refused', entry, answer: { id: entry.id, result: 'refused', why: nowhere } }
      return { is: 'waiting', entry }
    }
    await new Promise((resolve) => setTimeout(resolve, 30))
    if (!sending) await flush()
  }
}

let sending: Promise<void> | undefined
/** Sends what waits, in order, as the only tab that does so. */
export function flush(): Promise<void> {
  sending ??= sendAll().finally(() => (sending = undefined))
  return sending
}

/** A connection that is lost without a word would hold up all that waits behind it. */
const patience = 8000
/** A sender renews its lease while it sends: one that was closed meanwhile holds nobody up for longer than somebody waits. */
const sendingFor = 2500
const renewEvery = 1000
const atOnce = 100

/** This tab is the sender, for now. */
let holds = false
/** When something was last on its way, by a clock that nobody sets. */
let moved = performance.now()
/** Another tab holds the lease and sends nothing: it hangs. What comes twice counts once, so this one sends, too. */
const stuck = () => performance.now() - moved > 4 * sendingFor

async function sendAll() {
  const renewing = setInterval(() => void (holds && lease('sender', sendingFor)), renewEvery)
  const ready = () => [...onDisk.value, ...loose.value].filter((w) => !w.refused).slice(0, atOnce)
  try {
    for (;;) {
      if (ready().length === 0) await load()
      const next = ready()
      if (next.length === 0) return
      holds ||= (await lease('sender', sendingFor)) || stuck()
      if (!holds) return
      if (!(await send(next))) return
      moved = performance.now()
    }
  } finally {
    clearInterval(renewing)
    if (holds) await release('sender')
    holds = false
  }
}

/** Sends entries and takes in what became of each. It is false when the server could not take them now. */
async function send(next: Waiting[]): Promise<boolean> {
  try {
    const refusedPictures = await sendPictures(next)
    const ready = next.filter((w) => !refusedPictures.has(w.entry.id))
    const response = await fetch(`${base}/api/entries`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ entries: ready.map((w) => w.entry), ...(open ? { sheet: open } : {}) }),
      signal: AbortSignal.timeout(patience),
    })
    heard(response.status)
    heardFrom(response.headers, true)
    if (response.status === 401) return false
    if (response.ok) {
      const out = (await response.json()) as Schemas['EntriesOut']
      // The sheet and what waited of it at once: between the two nothing that was typed is out of sight.
      const engines = [...new Set(next.map((w) => w.entry.engine ?? ''))]
      await take(next, [...out.answers, ...refusedPictures.values()], { engines, sheet: out.sheet })
      away(false)
      return true
    }
    // The server is there, and will never take these as they are: one by one, so that it is known which.
    if ([400, 413, 422].includes(response.status)) {
      if (next.length > 1) {
        for (const one of next) if (!(await send([one]))) return false
        return true
      }
      const problem = (await response.json().catch(() => ({}))) as Problem
      const id = next[0]!.entry.id
      await take(next, [{ id, result: 'refused', why: problem.detail ?? says('not-saved') }])
      return true
    }
  } catch {
    // Silence: it is kept here, and sent again.
  }
  away(true)
  return false
}

/** Pictures go before their entries, so that none is noted without its picture. */
async function sendPictures(next: Waiting[]): Promise<Map<string, Answer>> {
  const refused = new Map<string, Answer>()
  for (const { entry } of next.filter((w) => w.entry.kind === 'photo')) {
    const kept = await pictureOf(entry.id)
    if (!kept) continue
    const response = await fetch(`${base}/api/photos/${entry.id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'image/jpeg' },
      body: kept,
      signal: AbortSignal.timeout(patience * 4),
    })
    heard(response.status)
    if ([409, 413, 422].includes(response.status)) {
      const problem = (await response.json().catch(() => ({}))) as Problem
      refused.set(entry.id, { id: entry.id, result: 'refused', why: problem.detail ?? says('photo-was-not-saved') })
    } else if (!response.ok) throw new Error(says('not-now'))
  }
  return refused
}

async function pictureOf(id: string): Promise<Blob | undefined> {
  const here = loose.value.find((w) => w.entry.id === id)
  return here ? here.picture : (await (await disk).get('pictures', id))?.picture
}

/** Takes in what became of entries: it is shown at once, then written down here, too. Were that cut off, they would be sent again. */
async function take(next: Waiting[], found: Answer[], news?: News) {
  const became = new Map(found.map((a) => [a.id, a]))
  for (const answer of found) answers.set(answer.id, answer)
  const left = (w: Waiting) => {
    const answer = became.get(w.entry.id)
    if (!answer) return [w]
    return answer.result === 'refused' ? [{ ...w, refused: answer }] : []
  }
  onDisk.value = onDisk.value.flatMap(left)
  loose.value = loose.value.flatMap(left)
  if (news) spread(news)
  await takeOff(
    next.filter((w) => !w.loose),
    became,
  ).catch(() => (storesNothing.value = true)) // it is sent again, and counts once
  say({ answered: found })
}

async function takeOff(next: Waiting[], became: Map<string, Answer>) {
  if (next.length === 0) return
  const tx = (await disk).transaction(['outbox', 'pictures'], 'readwrite')
  for (const waiting of next) {
    const answer = became.get(waiting.entry.id)
    if (!answer) continue
    if (answer.result === 'refused') {
      void tx.objectStore('outbox').put({ n: waiting.n!, entry: waiting.entry, refused: answer })
    } else {
      void tx.objectStore('outbox').delete(waiting.n!)
      void tx.objectStore('pictures').delete(waiting.entry.id)
    }
  }
  await tx.done
}

function away(is: boolean) {
  if (unreachable.value === is) return
  unreachable.value = is
  say({ unreachable: is })
}

/** Tells this tab and the others what has changed. */
export function spread(news: News) {
  listeners.forEach((listen) => listen(news))
  // This tab is drawn first: what the others are told is a copy of a whole sheet.
  setTimeout(() => say({ news: plain(news) }))
}

/** Takes an entry out of the outbox by hand: it was never kept anywhere else. */
export async function drop(id: string) {
  const waiting = all.value.find((w) => w.entry.id === id)
  if (!waiting) return
  loose.value = loose.value.filter((w) => w.entry.id !== id)
  if (!waiting.loose) {
    const db = await disk
    await db.delete('outbox', waiting.n!)
    await db.delete('pictures', id)
  }
  await load()
  say()
}

/** Puts an entry on its way again, as it is or mended; those that were refused behind it are tried again, too. */
export async function again(id: string, change: Partial<Entry> = {}) {
  const waiting = all.value.find((w) => w.entry.id === id)
  if (!waiting) return
  const entry = plain({ ...waiting.entry, ...change }) as Entry
  const behind = (w: Waiting) => w.refused && w.entry.engine === entry.engine
  loose.value = loose.value.map((w) =>
    w.entry.id === id ? { ...w, entry, refused: undefined } : behind(w) ? { ...w, refused: undefined } : w,
  )
  if (!waiting.loose) {
    const db = await disk
    await db.put('outbox', { n: waiting.n!, entry })
    for (const other of onDisk.value)
      if (behind(other) && other.n! > waiting.n!) await db.put('outbox', { n: other.n!, entry: other.entry })
  }
  await load()
  say()
  await flush()
}

/** Says which sheet is open in this tab. */
export function show(sheet: typeof open) {
  open = sheet
}

export function onNews(listen: (news: News) => void) {
  listeners.add(listen)
  return () => listeners.delete(listen)
}

/** Starts the sender of this tab: what another page, or an earlier day, left behind is sent from whichever page is open. */
export function startOutbox() {
  void fetch(`${base}/api/door`).then(
    (r) => heardFrom(r.headers, true),
    () => undefined,
  )
  // What is in this page alone is gone with it: only then is whoever leaves it asked.
  const asks = (event: BeforeUnloadEvent) => event.preventDefault()
  watch(
    () => loose.value.length > 0,
    (some) => (some ? addEventListener('beforeunload', asks) : removeEventListener('beforeunload', asks)),
  )
  void load().then(flush)
  setInterval(() => void (all.value.some((w) => !w.refused) && !locked.value && flush()), 1500)
}

export const outbox = {
  all,
  waiting: computed(() => all.value.filter((w) => !w.refused)),
  /** Of what waits, that which is on disk. */
  stored: computed(() => onDisk.value.filter((w) => !w.refused)),
  /** And that which is in this page alone. */
  loose: computed(() => loose.value),
  refused: computed(() => all.value.filter((w) => w.refused)),
  unreachable: computed(() => unreachable.value),
}

/** What waits of an engine, in order. */
export const waitingOf = (engine: string) => all.value.filter((w) => w.entry.engine === engine && !w.refused)
