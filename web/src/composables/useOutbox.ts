import { useIntervalFn } from '@vueuse/core'
import { openDB, type DBSchema } from 'idb'
import { computed, ref } from 'vue'
import { Refused, type Problem } from '@/api/client'

/** One entry of a sheet on its way to the server: where it is sent, and what. It is posted, or changes what is there. */
export interface Entry {
  id?: number
  sheet: string
  method?: 'PATCH'
  path: string
  body: Record<string, unknown>
}

interface Box extends DBSchema {
  entries: { key: number; value: Entry; indexes: { sheet: string } }
}

const opened = openDB<Box>('braxel', 1, {
  upgrade: (db) =>
    db.createObjectStore('entries', { keyPath: 'id', autoIncrement: true }).createIndex('sheet', 'sheet'),
})

/**
 * Keeps what is typed on a sheet in the browser until the server has answered for it. Entries are sent in the order
 * they were made, one at a time; an entry carries its own key, so one that was sent twice is kept once.
 */
export function useOutbox<Answer>(sheet: string, landed: (answer: Answer, entry: Entry) => void) {
  const waiting = ref<Entry[]>([])
  const unreachable = ref(false)
  const refused = ref<{ entry: Entry; status: number; problem: Problem }>()
  let sending: Promise<void> | undefined

  const ready = opened.then(async (db) => {
    waiting.value = [...(await db.getAllFromIndex('entries', 'sheet', sheet)), ...waiting.value]
    void flush()
  })

  async function add(path: string, body: Record<string, unknown>, method?: 'PATCH') {
    await ready
    const entry: Entry = { sheet, path, body: plain(body), ...(method ? { method } : {}) }
    waiting.value.push(entry)
    entry.id = await (await opened).add('entries', entry)
    waiting.value = [...waiting.value]
    await flush()
  }

  function flush(): Promise<void> {
    sending ??= sendAll().finally(() => (sending = undefined))
    return sending
  }

  async function sendAll() {
    while (waiting.value.length > 0 && !refused.value) {
      const entry = waiting.value[0]!
      if (entry.id === undefined) return
      try {
        const answer = await send(entry)
        unreachable.value = false
        landed(answer as Answer, entry)
        await forget(entry)
      } catch (error) {
        if (error instanceof Refused && error.status < 500) {
          refused.value = { entry, status: error.status, problem: error.problem }
        } else {
          unreachable.value = true
        }
        return
      }
    }
  }

  async function forget(entry: Entry) {
    await (await opened).delete('entries', entry.id!)
    waiting.value = waiting.value.filter((e) => e.id !== entry.id)
  }

  /** Sends a doubted entry again, as read. */
  async function confirm() {
    const entry = refused.value?.entry
    if (!entry) return
    entry.body = { ...entry.body, confirmed: true }
    await (await opened).put('entries', { ...entry, body: plain(entry.body) })
    refused.value = undefined
    await flush()
  }

  /** Takes a refused entry back, so that it can be typed again. */
  async function drop() {
    const entry = refused.value?.entry
    if (!entry) return
    await forget(entry)
    refused.value = undefined
    await flush()
  }

  useIntervalFn(() => unreachable.value && void flush(), 1500)
  return { waiting, unreachable: computed(() => unreachable.value), refused, add, confirm, drop }
}

/** A copy without the reactivity of the page, which IndexedDB would refuse. */
const plain = (body: Record<string, unknown>) => JSON.parse(JSON.stringify(body)) as Record<string, unknown>

const patience = 8000

async function send(entry: Entry): Promise<unknown> {
  const response = await fetch(entry.path, {
    method: entry.method ?? 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(entry.body),
    // A connection that is lost without a word would hold up all that waits behind it.
    signal: AbortSignal.timeout(patience),
  })
  const text = await response.text()
  if (!response.ok) {
    const problem = response.headers.get('Content-Type')?.includes('json') ? (JSON.parse(text) as Problem) : {}
    throw new Refused(response.status, problem)
  }
  return JSON.parse(text)
}
