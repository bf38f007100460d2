import { openDB, type DBSchema, type IDBPObjectStore } from 'idb'
import { nanoid } from 'nanoid'
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
}

interface Box extends DBSchema {
  outbox: { key: number; value: Waiting }
  pictures: { key: string; value: { id: string; picture: Blob } }
  leases: { key: string; value: { name: string; owner: string; until: number } }
}

/** An entry of the first outbox: a path, and what is posted there. */
interface Old {
  sheet: string
  path: string
  method?: string
  body: Record<string, unknown>
}

export const disk = openDB<Box>(practice ? 'braxel-practice' : 'braxel', 2, {
  async upgrade(db, from, _, tx) {
    db.createObjectStore('outbox', { keyPath: 'n', autoIncrement: true })
    db.createObjectStore('pictures', { keyPath: 'id' })
    db.createObjectStore('leases', { keyPath: 'name' })
    if (from !== 1) return
    // What waited in the first outbox goes on its way as entries.
    const old = (await (tx as unknown as { objectStore(name: string): { getAll(): Promise<Old[]> } })
      .objectStore('entries')
      .getAll()) as Old[]
    for (const one of old) {
      const entry = fromOld(one)
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

/** This tab, among the tabs of this browser. */
export const tab = nanoid(8)

/**
 * Takes a lease that all tabs respect, for so many milliseconds, unless another tab holds it. One transaction of IndexedDB
 * decides; it works on every address, as web locks do not.
 */
export async function lease(name: string, ms: number): Promise<boolean> {
  const tx = (await disk).transaction('leases', 'readwrite')
  const mine = await leaseIn(tx.store, name, ms)
  await tx.done
  return mine
}

/** Takes a lease within a transaction that is open already. */
export async function leaseIn(leases: Leases, name: string, ms: number): Promise<boolean> {
  const have = await leases.get(name)
  const mine = !have || have.owner === tab || have.until < Date.now()
  if (mine) await leases.put({ name, owner: tab, until: Date.now() + ms })
  return mine
}
type Leases = Pick<IDBPObjectStore<Box, ('leases' | 'outbox' | 'pictures')[], 'leases', 'readwrite'>, 'get' | 'put'>

export async function release(name: string) {
  const tx = (await disk).transaction('leases', 'readwrite')
  const have = await tx.store.get(name)
  if (have?.owner === tab) await tx.store.delete(name)
  await tx.done
}
