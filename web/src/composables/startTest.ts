import type { QueryClient } from '@tanstack/vue-query'
import { nanoid } from 'nanoid'
import type { Router } from 'vue-router'
import type { Schemas } from '@/api/client'
import { engineQuery } from '@/api/queries'
import { tell, waitingOf } from '@/outbox/useOutbox'
import { today } from '@/outbox/clock'

/** What a test begins with while the server is away and has never said: the usual way, and all of it can be changed. */
const usual: Partial<Schemas['Session']> = {
  open: true,
  stage: 'as-found',
  baseline: true,
  place: 'car',
  conditions: { throttle: 'open', plugs_out: 'all', engine_temp: 'hot', cranking: { rule: 'plateau' } },
}

/** Begins a test of the engine and opens its sheet; a test that is not finished is taken up again. It opens at the step, where one is given. */
export async function startTest(router: Router, client: QueryClient, engine: string, step?: string) {
  const page = await client
    .fetchQuery(engineQuery(engine))
    .catch(() => client.getQueryData<Schemas['EnginePage']>(['engine', engine]))
  const waiting = waitingOf(engine).find((w) => w.entry.kind === 'test' && (w.entry.body as { open?: boolean }).open)
  let test = page?.open ?? (waiting?.entry.body as { id?: string } | undefined)?.id
  if (!test) {
    const begin = page?.begin ?? usual
    const date = [today(), page?.begin.date ?? ''].sort().at(-1)!
    test = `${date}-${nanoid(5)}`
    await tell({ kind: 'test', engine, body: { ...begin, id: test, date } })
  }
  await router.push(`/engines/${engine}/tests/${encodeURIComponent(test)}${step ? `/${step}` : ''}`)
}
