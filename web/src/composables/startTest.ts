import type { QueryClient } from '@tanstack/vue-query'
import { nanoid } from 'nanoid'
import type { Router } from 'vue-router'
import type { Schemas } from '@/api/client'
import { builtInRulebook, engineQuery, rulebookQuery } from '@/api/queries'
import { tell, waitingOf } from '@/outbox/useOutbox'
import { today } from '@/api/clock'

/** Begins a test of the engine and opens its sheet; a test that is not finished is taken up again. It opens at the step, where one is given. */
export async function startTest(router: Router, client: QueryClient, engine: string, step?: string) {
  const page = await client
    .fetchQuery(engineQuery(engine))
    .catch(() => client.getQueryData<Schemas['EnginePage']>(['engine', engine]))
  const waiting = waitingOf(engine).find((w) => w.entry.kind === 'test' && (w.entry.body as { open?: boolean }).open)
  let test = page?.open ?? (waiting?.entry.body as { id?: string } | undefined)?.id
  if (!test) {
    // Of an engine that is not known here nobody can say whether this is its first test: only one that was entered on this device, and
    // waits with nothing tested, begins with its baseline.
    const begin = page?.begin ?? {
      ...(
        await client
          .fetchQuery(rulebookQuery)
          .catch(() => client.getQueryData<Schemas['Rulebook']>(['rulebook']) ?? builtInRulebook)
      ).begin,
      ...(waitingOf(engine).some((w) => w.entry.kind === 'engine') ? { baseline: true } : {}),
    }
    const date = [today(), page?.begin.date ?? ''].sort().at(-1)!
    test = `${date}-${nanoid(5)}`
    await tell({ kind: 'test', engine, body: { ...begin, id: test, date } })
  }
  await router.push(`/engines/${engine}/tests/${encodeURIComponent(test)}${step ? `/${step}` : ''}`)
}
