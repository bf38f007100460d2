import type { QueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { base } from '@/api/base'
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
  if (news.gauges) void client.invalidateQueries({ queryKey: ['gauge'] })
  if (news.engines.length)
    for (const key of ['rack', 'diary', 'compare', 'season']) void client.invalidateQueries({ queryKey: [key] })
  for (const engine of news.engines) {
    if (engine === '') {
      for (const key of ['testers', 'protocols', 'record', 'engine']) void client.invalidateQueries({ queryKey: [key] })
      continue
    }
    for (const key of ['engine', 'wheel', 'record', 'paper', 'inspection'])
      void client.invalidateQueries({ queryKey: [key, engine] })
    void client.invalidateQueries({
      queryKey: ['sheet', engine],
      predicate: (q) => q.queryKey[2] !== news.sheet?.session.id || q.queryKey[1] !== news.sheet?.engine.id,
    })
  }
}

/** Whether the server is heard, as far as this tab knows. */
export const hearing = ref(true)

/** The lease on the one event stream of this browser, and how often it is renewed. */
const streamLease = 3000
const renew = 1000
/** How long a stream that ended may take to be open again, ms. */
const patience = 1500

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
      missed = true // another tab, or this one before it was loaded anew, may have been told
    } else if (!stream || stream.readyState === EventSource.CLOSED) {
      stream = new EventSource(`${base}/api/changes`)
      stream.onmessage = (event: MessageEvent<string>) => spread(JSON.parse(event.data) as News)
      // It is there again: what waits can go, and what was missed is asked for.
      let opened = false
      stream.onopen = () => {
        hearing.value = true
        void flush()
        if (opened || missed) spread({ engines: [], all: true })
        opened = true
        missed = false
      }
      stream.onerror = () => {
        missed = true
        // The server ends each stream after a while: only one that is not back soon is lost.
        setTimeout(() => (hearing.value = stream?.readyState === EventSource.OPEN), patience)
      }
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
