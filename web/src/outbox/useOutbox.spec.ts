// @vitest-environment jsdom
import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Entry } from './disk'

/** What the server was handed, and what it says to each: an answer, a status, or nothing while it is away. */
const sent: Entry[] = []
type Says = { status: number } | { result: 'kept' | 'already' | 'refused'; why?: string } | undefined
let say: (entry: Entry) => Says
vi.stubGlobal('BroadcastChannel', undefined)
vi.stubGlobal('fetch', async (path: string, init: RequestInit) => {
  if (path !== '/api/entries') return new Response(null, { status: 201 })
  const { entries } = JSON.parse(init.body as string) as { entries: Entry[] }
  const says = entries.map(say)
  if (says.some((s) => s === undefined)) throw new TypeError('cannot be reached')
  const status = says.find((s) => s && 'status' in s) as { status: number } | undefined
  if (status) return new Response('{"detail":"not these"}', { status: status.status })
  sent.push(...entries)
  const answers = entries.map((e, i) => ({ id: e.id, ...says[i] }))
  return new Response(JSON.stringify({ answers }), { status: 200 })
})

const { again, drop, flush, outbox, tell } = await import('./useOutbox')
const { locked } = await import('@/api/door')
const { disk, fromOld, lease, release } = await import('./disk')

const pull = (value: number) =>
  tell({ kind: 'pull', engine: 'siskin', body: { test: 's1', cylinder: 1, mode: 'dry', value, unit: 'psi' } })
const values = () => sent.map((e) => (e.body as { value: number }).value)
const waiting = () => outbox.all.value.map((w) => (w.entry.body as { value: number }).value)

beforeEach(async () => {
  await (await disk).clear('outbox')
  await flush()
  sent.length = 0
  localStorage.clear()
  say = () => ({ result: 'kept' })
})

describe('the outbox', () => {
  it('sends what is entered, in order, and lets it go when it is answered', async () => {
    const outcomes = await Promise.all([pull(1), pull(2), pull(3)])
    expect(outcomes.map((o) => o.is)).toEqual(['kept', 'kept', 'kept'])
    expect(values()).toEqual([1, 2, 3])
    expect(outbox.all.value).toEqual([])
    expect(await (await disk).count('outbox')).toBe(0)
  })

  it.each([401, 403, 404, 500, 503])('keeps everything when the server says %i', async (status) => {
    say = () => ({ status })
    for (const v of [1, 2, 3]) expect((await pull(v)).is).toBe('waiting')
    expect(waiting()).toEqual([1, 2, 3])
    // 401 is said of a device that is not let in: the passcode is asked for, and nothing is lost.
    expect(locked.value).toBe(status === 401)
    expect(outbox.unreachable.value).toBe(status !== 401)
    say = () => ({ result: 'kept' })
    await flush()
    expect(values()).toEqual([1, 2, 3])
    expect(outbox.unreachable.value || locked.value).toBe(false)
  })

  it('keeps everything while the server is silent, on disk, and sends each once when it is back', async () => {
    say = () => undefined
    await pull(1)
    await pull(2)
    expect(await (await disk).count('outbox')).toBe(2)
    say = () => ({ result: 'kept' })
    await Promise.all([flush(), flush()])
    expect(values()).toEqual([1, 2])
  })

  it('keeps a refused entry, marked, and holds up nothing behind it', async () => {
    say = (e) =>
      (e.body as { value: number }).value === 1510 ? { result: 'refused', why: 'beyond any gauge' } : { result: 'kept' }
    const refused = await pull(1510)
    expect(refused.is).toBe('refused')
    expect((await pull(151)).is).toBe('kept')
    expect(waiting()).toEqual([1510])
    expect(outbox.refused.value[0]!.refused!.why).toBe('beyond any gauge')
    await flush()
    expect(values()).toEqual([1510, 151])
    await again(refused.entry.id, { body: { ...refused.entry.body, value: 150 } } as Partial<Entry>)
    expect(values()).toEqual([1510, 151, 150])
    expect(sent[2]!.id).toBe(refused.entry.id)
    expect(outbox.all.value).toEqual([])
  })

  it('finds the one that the server will never take, and sends the others', async () => {
    say = (e) => ((e.body as { value: number }).value === 2 ? { status: 422 } : { result: 'kept' })
    say = ((inner) => (e: Entry) => (sent.length < 0 ? undefined : inner(e)))(say)
    await (await disk).add('outbox', { entry: (await entryOf(1)) as Entry })
    await (await disk).add('outbox', { entry: (await entryOf(2)) as Entry })
    await (await disk).add('outbox', { entry: (await entryOf(3)) as Entry })
    await flush()
    expect(values()).toEqual([1, 3])
    expect(outbox.refused.value).toHaveLength(1)
  })

  it('lets what was never sent be dropped by hand', async () => {
    say = () => undefined
    const { entry } = await pull(7)
    await drop(entry.id)
    say = () => ({ result: 'kept' })
    await flush()
    expect(values()).toEqual([])
  })

  it('signs and names each entry where it is typed', async () => {
    const { entry } = await pull(5)
    expect(entry.id).toMatch(/^[A-Za-z0-9_-]{8,64}$/)
    expect(Date.parse(entry.at)).toBeGreaterThan(Date.now() - 5000)
    expect(entry.by).toMatch(/^(computer|phone) /)
  })

  it('lets one tab send at a time', async () => {
    expect(await lease('x', 60_000)).toBe(true)
    const tx = (await disk).transaction('leases', 'readwrite')
    await tx.store.put({ name: 'x', owner: 'another tab', since: Date.now(), for: 60_000 })
    expect(await lease('x', 60_000)).toBe(false)
    await release('x')
    expect(await lease('x', 60_000)).toBe(false)
    await (await disk).put('leases', { name: 'x', owner: 'another tab', since: Date.now() - 60_001, for: 60_000 })
    expect(await lease('x', 60_000)).toBe(true)
  })

  it('takes over what waited in the first outbox', () => {
    const base = '/api/engines/siskin/sessions/s1'
    const old = (path: string, body: object, method?: string) =>
      fromOld({ sheet: 'siskin/s1', path: base + path, body: body as Record<string, unknown>, method })
    expect(old('/pulls', { key: 'k1', value: 171, confirmed: true })).toMatchObject({
      id: 'k1',
      kind: 'pull',
      engine: 'siskin',
      sure: true,
      body: { test: 's1', value: 171 },
    })
    expect(old('/pulls/k1/strike', { why: 'x' })).toMatchObject({ kind: 'strike', body: { entry: 'k1', test: 's1' } })
    expect(old('', { meter: 3 }, 'PATCH')).toMatchObject({ kind: 'test', body: { id: 's1', meter: 3 } })
    expect(old('/ticks', { line: 'a', done: true })).toMatchObject({ kind: 'tick' })
  })
})

async function entryOf(value: number) {
  return { id: `entry-${value}`, at: new Date().toISOString(), kind: 'pull', engine: 'e', body: { test: 's', value } }
}
