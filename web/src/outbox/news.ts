import type { QueryClient } from '@tanstack/vue-query'
import { lease, release } from './disk'
import { flush, onNews, spread, type News } from './useOutbox'
import type { Schemas } from '@/api/client'

type Sheet = Schemas['Sheet']

/** Answers may overtake each other on the way: what is shown of a sheet never goes back. */
export function newer(client: QueryClient, key: readonly unknown[], answer: Sheet): Sheet {
  const shown = client.getQueryData<Sheet>(key)
  return shown && shown.revision > answer.revision ? shown : answer
}

/** What is asked for anew when engines changed; "" is the workshop. */
function refresh(client: QueryClient, news: News) {
  if (news.all) return void client.invalidateQueries()
  if (news.sheet) {
    const key = ['sheet', news.sheet.engine.id, news.sheet.session.id]
    client.setQueryData(key, newer(client, key, news.sheet))
  }
  void client.invalidateQueries({ queryKey: ['rack'] })
  for (const engine of news.engines) {
    if (engine === '') {
      for (const key of ['testers', 'protocols', 'record', 'engine']) void client.invalidateQueries({ queryKey: [key] })
      continue
    }
    for (const key of ['engine', 'wheel', 'record']) void client.invalidateQueries({ queryKey: [key, engine] })
    void client.invalidateQueries({
      queryKey: ['sheet', engine],
      predicate: (q) => q.queryKey[2] !== news.sheet?.session.id || q.queryKey[1] !== news.sheet?.engine.id,
    })
  }
}

/** The lease on the one event stream of this browser, and how often it is renewed. */
const streamLease = 6000
const renew = 2000

/** Keeps what is shown as it is: one tab listens to the server for all of them. */
export function startNews(client: QueryClient) {
  onNews((news) => refresh(client, news))
  let stream: EventSource | undefined
  let missed = false
  async function keep() {
    const mine = await lease('stream', streamLease)
    if (!mine) {
      stream?.close()
      stream = undefined
    } else if (!stream || stream.readyState === EventSource.CLOSED) {
      stream = new EventSource('/api/changes')
      stream.onmessage = (event: MessageEvent<string>) => spread(JSON.parse(event.data) as News)
      // It is there again: what waits can go, and what was missed is asked for.
      let opened = false
      stream.onopen = () => {
        void flush()
        if (opened || missed) spread({ engines: [], all: true })
        opened = true
        missed = false
      }
      stream.onerror = () => (missed = true)
    }
  }
  void keep()
  setInterval(() => void keep(), renew)
  addEventListener('pagehide', () => {
    stream?.close()
    stream = undefined
    void release('stream')
  })
}
