import { effectScope } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'

// The browser's store, in memory: what is on disk outlives the page.
const disk = new Map<number, { id: number; sheet: string }>()
let next = 1
vi.mock('idb', () => ({
  openDB: async () => ({
    getAllFromIndex: async (_: string, __: string, sheet: string) =>
      [...disk.values()].filter((e) => e.sheet === sheet),
    add: async (_: string, entry: { sheet: string }) => {
      disk.set(next, { ...entry, id: next })
      return next++
    },
    put: async (_: string, entry: { id: number; sheet: string }) => disk.set(entry.id, entry),
    delete: async (_: string, id: number) => disk.delete(id),
  }),
}))

const { useOutbox } = await import('./useOutbox')

/** What the server was sent, and what it answers: a status, or nothing while it is away. */
const sent: { method: string; path: string; body: Record<string, unknown> }[] = []
let answer: (body: Record<string, unknown>) => number | undefined
beforeEach(() => {
  disk.clear()
  sent.length = 0
  answer = () => 201
  vi.useFakeTimers()
  vi.stubGlobal('fetch', async (path: string, init: RequestInit) => {
    const body = JSON.parse(init.body as string) as Record<string, unknown>
    const status = answer(body)
    if (!status) throw new TypeError('cannot be reached')
    sent.push({ method: init.method!, path, body })
    const text = JSON.stringify(status < 300 ? { kept: sent.length } : { detail: 'As read?' })
    return new Response(text, { status, headers: { 'Content-Type': 'application/json' } })
  })
})
afterEach(() => vi.useRealTimers())

function open(landed = vi.fn()) {
  const scope = effectScope()
  const box = scope.run(() => useOutbox('siskin/s1', landed))!
  return { box, landed, close: () => scope.stop() }
}
const later = () => vi.advanceTimersByTimeAsync(2000)
const values = () => sent.map((s) => s.body.value)

describe('the outbox', () => {
  it('sends what is entered, in order, and lets it go when it is answered', async () => {
    const { box, landed, close } = open()
    await Promise.all([
      box.add('/pulls', { value: 1 }),
      box.add('/pulls', { value: 2 }),
      box.add('/pulls', { value: 3 }),
    ])
    await later()
    expect(values()).toEqual([1, 2, 3])
    expect(landed).toHaveBeenCalledTimes(3)
    expect(box.waiting.value).toEqual([])
    expect(disk.size).toBe(0)
    close()
  })

  it('keeps entries while the server is away and sends each once when it is back', async () => {
    const { box, close } = open()
    answer = () => undefined
    for (const value of [1, 2, 3]) await box.add('/pulls', { value })
    expect(box.unreachable.value).toBe(true)
    expect(box.waiting.value).toHaveLength(3)
    expect(disk.size).toBe(3)
    answer = () => 201
    await later()
    expect(values()).toEqual([1, 2, 3])
    expect(box.unreachable.value).toBe(false)
    close()
  })

  it('takes up what another page left behind', async () => {
    answer = () => undefined
    const first = open()
    await first.box.add('/pulls', { value: 7 })
    first.close()
    answer = () => 201
    const second = open()
    await later()
    expect(values()).toEqual([7])
    second.close()
  })

  it('holds back what comes after a doubted entry until somebody says', async () => {
    const { box, close } = open()
    answer = (body) => (body.value === 51 && !body.confirmed ? 409 : 201)
    await box.add('/pulls', { value: 51 })
    await box.add('/pulls', { value: 150 })
    expect(box.refused.value?.status).toBe(409)
    expect(values()).toEqual([51])
    await box.confirm()
    await later()
    expect(sent.slice(1).map((s) => s.body)).toEqual([{ value: 51, confirmed: true }, { value: 150 }])
    close()
  })

  it('lets a refused entry be taken back, and goes on', async () => {
    const { box, close } = open()
    answer = (body) => (body.value === 1510 ? 422 : 201)
    await box.add('/pulls', { value: 1510 })
    await box.add('/pulls', { value: 151 })
    await box.drop()
    await later()
    expect(box.refused.value).toBeUndefined()
    expect(values()).toEqual([1510, 151])
    expect(disk.size).toBe(0)
    close()
  })

  it('asks again after an error of the server, and loses nothing', async () => {
    const { box, close } = open()
    answer = () => 500
    await box.add('/pulls', { value: 5 })
    expect(box.waiting.value).toHaveLength(1)
    answer = () => 201
    await later()
    expect(box.waiting.value).toHaveLength(0)
    close()
  })

  it('changes what is there with the same patience', async () => {
    const { box, close } = open()
    await box.add('/sheet', { meter: 12 }, 'PATCH')
    await later()
    expect(sent[0]).toEqual({ method: 'PATCH', path: '/sheet', body: { meter: 12 } })
    close()
  })
})
