// @vitest-environment jsdom
import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Entry } from './disk'

/** A browser whose storage can be filled up, and a server that is there or not. */
let full = false
let away = false
const sent: Entry[] = []
const add = IDBObjectStore.prototype.add
IDBObjectStore.prototype.add = function (...args: Parameters<typeof add>) {
  if (full) throw new DOMException('no room', 'QuotaExceededError')
  return add.apply(this, args)
}
const setItem = Storage.prototype.setItem
Storage.prototype.setItem = function (...args: Parameters<typeof setItem>) {
  if (full) throw new DOMException('no room', 'QuotaExceededError')
  return setItem.apply(this, args)
}
vi.stubGlobal('BroadcastChannel', undefined)
vi.stubGlobal('fetch', (path: string, init?: RequestInit) => {
  if (away || path !== '/api/entries') return Promise.reject(new TypeError('cannot be reached'))
  const { entries } = JSON.parse(init!.body as string) as { entries: Entry[] }
  sent.push(...entries)
  const answers = entries.map((e) => ({ id: e.id, result: 'kept' }))
  return Promise.resolve(new Response(JSON.stringify({ answers }), { status: 200 }))
})
const { drop, flush, outbox, storesNothing, tell } = await import('./useOutbox')
const { count } = await import('./mine')

const pull = (value: number, id?: string) =>
  tell({ id, kind: 'pull', engine: 'siskin', body: { test: 's1', cylinder: 1, mode: 'dry', value, unit: 'psi' } })
const values = () => sent.map((e) => (e.body as { value: number }).value)

beforeEach(async () => {
  full = away = false
  for (const w of outbox.all.value) await drop(w.entry.id)
  sent.length = 0
})

describe('a browser that stores nothing', () => {
  it('sends what is entered straight to the server, and says that it stores nothing', async () => {
    full = true
    expect((await pull(171)).is).toBe('kept')
    expect(values()).toEqual([171])
    expect(storesNothing.value).toBe(true)
    full = false
    await pull(172)
    expect(storesNothing.value).toBe(false)
  })

  it('never calls it waiting where it is nowhere: the field keeps it, or this page does', async () => {
    full = away = true
    const { is, answer, entry } = await pull(173)
    expect(is).toBe('refused')
    expect(answer?.why).toContain('stays in its field')
    // As long as nobody takes it back into its field it is in this page, and is sent when the server is there.
    expect(outbox.loose.value.map((w) => w.entry.id)).toEqual([entry.id])
    expect(outbox.stored.value).toEqual([])
    away = false
    await flush()
    expect(values()).toEqual([173])
    expect(outbox.all.value).toEqual([])
  })

  it('lets it be dropped when it is back in its field', async () => {
    full = away = true
    const { entry } = await pull(174)
    await drop(entry.id)
    away = false
    await flush()
    expect(values()).toEqual([])
  })

  it('still knows what can be undone', async () => {
    const before = count.value
    full = true
    await pull(175)
    expect(count.value).toBe(before + 1)
  })
})

describe('a form that is handed in twice', () => {
  it('counts once, on its way and after', async () => {
    const both = await Promise.all([pull(180, 'form-1'), pull(180, 'form-1')])
    expect(both.map((o) => o.is)).toEqual(['kept', 'kept'])
    await pull(180, 'form-1')
    expect(values()).toEqual([180])
  })
})
