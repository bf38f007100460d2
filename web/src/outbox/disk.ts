import { openDB, type DBSchema, type IDBPObjectStore } from 'idb'
import { nanoid } from 'nanoid'
import { ref } from 'vue'
import { practice } from '@/api/base'
import type { Schemas } from '@/api/client'

/** An entry of the book, as it is typed on this device. */
export type Entry = Schemas['EntriesIn']['entries'][number]
export type Answer = Schemas['Answer']

/** An entry on its way to the server; with the answer that refused it, where one did. */
export interface Waiting {
  n?: number
  entry: Entry
  refused?: Answer
  /** It could not be stored on this device: it is in this page alone. */
  loose?: true
  picture?: Blob
}

interface Box extends DBSchema {
  outbox: { key: number; value: Waiting }
  pictures: { key: string; value: { id: string; picture: Blob } }
  leases: { key: string; value: { name: string; owner: string; since: number; for: number } }
}

/** An entry of the first outbox: a path, and what is posted there. */
interface Old {
  sheet: string
  path: string
  method?: string
  body: Record<string, unknown>
}

/** Another tab of an older or a newer Braxel has the store open, so that it can't be brought up to date. */
export const heldUp = ref(false)

export const disk = openDB<Box>(practice ? 'braxel-practice' : 'braxel', 2, {
  blocked: () => (heldUp.value = true),
  // A newer Braxel in another tab waits for this one: it lets go, and what is entered here goes straight to the server.
  blocking: (_have, _want, event) => (event.target as IDBDatabase).close(),
  async upgrade(db, from, _, tx) {
    db.createObjectStore('outbox', { keyPath: 'n', autoIncrement: true })
    db.createObjectStore('pictures', { keyPath: 'id' })
    db.createObjectStore('leases', { keyPath: 'name' })
    if (from !== 1) return
    // What waited in the first outbox goes on its way as entries.
    const old: unknown[] = await tx.objectStore('entries' as 'outbox').getAll()
    for (const one of old) {
      const entry = fromOld(one as Old)
      if (entry) await tx.objectStore('outbox').add({ entry })
    }
  },
})

/** Makes an entry of one that the first outbox kept. */
export function fromOld(old: Old): Entry | undefined {
  const [engine, test] = old.sheet.split('/').map(decodeURIComponent) as [string, string]
  const { key, confirmed, ...body } = old.body as { key?: string; confirmed?: boolean }
  const base = { id: key ?? nanoid(), at: new Date().toISOString(), engine }
  const struck = /\/(?:pulls|leakdown)\/([^/]+)\/strike$/.exec(old.path)
  const last = old.path.split('/').at(-1)
  const kinds: Record<string, string> = { pulls: 'pull', leakdown: 'leakdown', observations: 'look', ticks: 'tick' }
  if (struck) return { ...base, kind: 'strike', body: { ...body, test, entry: struck[1]! } } as Entry
  if (old.method === 'PATCH') return { ...base, kind: 'test', body: { ...body, id: test } } as Entry
  const kind = kinds[last ?? '']
  if (!kind) return undefined
  return { ...base, kind, body: { ...body, test }, ...(confirmed ? { sure: true } : {}) } as Entry
}

disk.then(
  () => (heldUp.value = false),
  () => undefined,
)

/** This tab, among the tabs of this browser. */
export const tab = nanoid(8)

/**
 * Takes a lease that all tabs respect, for so many milliseconds, unless another tab holds it. One transaction of IndexedDB
 * decides; it works on every address, as web locks do not.
 */
export async function lease(name: string, ms: number): Promise<boolean> {
  try {
    const tx = (await disk).transaction('leases', 'readwrite')
    const mine = await leaseIn(tx.store, name, ms)
    await tx.done
    return mine
  } catch {
    return true // a browser that stores nothing has no other tab to be told apart from: an entry that comes twice counts once
  }
}

/** Takes a lease within a transaction that is open already. */
export async function leaseIn(leases: Leases, name: string, ms: number): Promise<boolean> {
  const have = await leases.get(name)
  const mine = !have || have.owner === tab || !holds(have)
  // It is written with the transaction that it is asked in, which says so, too, where it can't be.
  if (mine) void leases.put({ name, owner: tab, since: Date.now(), for: ms }).catch(() => undefined)
  return mine
}

/**
 * Whether a lease still holds, by the time since it was taken: one that was taken in a time to come was taken before the clock was set
 * back, by a tab that may be long gone.
 */
function holds(have: Box['leases']['value']): boolean {
  const since = Date.now() - have.since
  return since >= 0 && since < have.for
}

type Leases = Pick<IDBPObjectStore<Box, ('leases' | 'outbox' | 'pictures')[], 'leases', 'readwrite'>, 'get' | 'put'>

export async function release(name: string) {
  try {
    const tx = (await disk).transaction('leases', 'readwrite')
    const have = await tx.store.get(name)
    if (have?.owner === tab) await tx.store.delete(name)
    await tx.done
  } catch {
    // There is none.
  }
}
