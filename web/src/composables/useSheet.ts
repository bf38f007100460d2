import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onScopeDispose, ref } from 'vue'
import { api, ask, type Problem, type Schemas } from '@/api/client'
import { rulebookQuery } from '@/api/queries'
import { seen } from '@/outbox/change'
import { draftSheet, engineWith, headWith } from '@/outbox/draft'
import { newer } from '@/outbox/news'
import { drop, outbox, show, tell, tellAll, type Outcome, type Typed } from '@/outbox/useOutbox'
import type { Entry } from '@/outbox/disk'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

export type Sheet = Schemas['Sheet']
type Of<K extends Entry['kind']> = Extract<Entry, { kind: K }>
/** What a change says of a thing: its fields, null where one is to be empty. */
type Changed<T> = T extends unknown[] ? T | null : T extends object ? { [P in keyof T]?: Changed<T[P]> | null } : T
type Head = Changed<Of<'test'>['body']>

/** The problem of a refused entry, as forms show it beside their fields. */
export function problemOf(outcome: Outcome): Problem {
  const { faults, why, field } = outcome.answer!
  const all = faults ?? [{ at: field ?? '', what: why ?? says('not-saved-2') }]
  return {
    detail: why,
    errors: all.map((f) => ({ location: `body${f.at.replaceAll('/', '.')}`, message: f.what })),
  }
}

/** What becomes of a reading of a test that is finished: nothing is written, here or there. */
const finished = {
  is: 'refused',
  entry: { id: '' } as Entry,
  answer: { id: '', result: 'refused', why: says('test-finished-reopen-save') },
} satisfies Outcome

/** A run sheet: what the server has of it, what is still on its way there, and what the person does to it. */
export function useSheet(engine: string, session: string) {
  const queryKey = ['sheet', engine, session]
  const client = useQueryClient()
  const query = useQuery({
    queryKey,
    queryFn: async () =>
      newer(
        client,
        queryKey,
        await ask(api.GET('/api/engines/{engine}/sessions/{session}/sheet', { params: { path: { engine, session } } })),
      ),
  })
  const rulebook = useQuery(rulebookQuery)
  show({ engine, test: session })
  onScopeDispose(() => show(undefined))

  /** The sheet with the changes of its head that wait laid over it; a draft where the server has not heard of it yet. */
  const sheet = computed((): Sheet | undefined => {
    const known = query.data.value
    const head = headWith(known?.session, session, outbox.waiting.value)
    if (known) return head ? { ...known, session: head } : known
    const page = client.getQueryData<Schemas['EnginePage']>(['engine', engine])
    const e = engineWith(page?.engine, engine, outbox.waiting.value)
    return e && head && rulebook.data.value ? draftSheet(e, head, rulebook.data.value, outbox.waiting.value) : undefined
  })
  const draft = computed(() => !query.data.value && !!sheet.value)

  /** Enters something of this test. A finished one takes nothing that is pressed by mistake. */
  const enter = <K extends 'pull' | 'leakdown' | 'look' | 'tick' | 'photo'>(
    kind: K,
    body: Omit<Of<K>['body'], 'test'>,
    picture?: Blob,
  ): Promise<Outcome> => {
    if (!sheet.value?.session.open && kind !== 'tick') return Promise.resolve(finished)
    return tell({ kind, engine, body: { ...body, test: session } } as Typed, picture)
  }
  /** Enters several things of this test at once. */
  const enterAll = <K extends 'pull' | 'look' | 'move'>(kind: K, bodies: Omit<Of<K>['body'], 'test'>[]) =>
    tellAll(bodies.map((body) => ({ kind, engine, body: { ...body, test: session } as Of<K>['body'] }) as Typed))
  const strike = (entry: string, why: string) => tell({ kind: 'strike', engine, body: { entry, test: session, why } })
  const unstrike = (entry: string) => tell({ kind: 'unstrike', engine, body: { entry, test: session } })
  /** A reading was of another cylinder. */
  const move = (entry: string, cylinder: number) =>
    tell({ kind: 'move', engine, body: { entry, test: session, cylinder } })
  const asRead = (entry: string) => tell({ kind: 'as-read', engine, body: { entry, test: session } })

  /** What waits of a kind, of this test. */
  const waiting = <K extends Entry['kind']>(kind: K): Of<K>[] =>
    outbox.waiting.value
      .map((w) => w.entry)
      .filter(
        (e): e is Of<K> => e.kind === kind && e.engine === engine && (e.body as { test?: string }).test === session,
      )
  // Said to wait is only what is on this device's disk already.
  const waitingCount = computed(
    () =>
      outbox.stored.value.filter(({ entry: e }) => {
        const b = e.body as { test?: string; id?: string }
        return e.engine === engine && (b.test ?? (e.kind === 'test' ? b.id : '')) === session
      }).length,
  )
  // One that was refused waits, too, until its field is marked.
  const headWaits = computed(() => outbox.all.value.some((w) => w.entry.kind === 'test' && w.entry.engine === engine))

  // What was refused of the head is shown beside its field until the next change.
  const headProblem = ref<Problem>()
  /** Changes the head of the test: what is given of it, and nothing else. */
  async function patch(head: Head) {
    headProblem.value = undefined
    const have = (sheet.value?.session ?? {}) as Record<string, unknown>
    const outcome = await tell({
      kind: 'test',
      engine,
      body: { ...head, id: session } as Of<'test'>['body'],
      was: seen(have, head),
    })
    if (outcome.is !== 'refused') return
    headProblem.value = problemOf(outcome)
    await drop(outcome.entry.id)
  }

  return {
    engine,
    session,
    query,
    sheet,
    draft,
    enter,
    enterAll,
    strike,
    unstrike,
    move,
    asRead,
    waiting,
    waitingCount,
    headWaits,
    patch,
    headProblem,
  }
}

export type Work = ReturnType<typeof useSheet>
