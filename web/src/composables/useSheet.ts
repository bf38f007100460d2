import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onScopeDispose, ref, watch } from 'vue'
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
export type Mode = 'dry' | 'wet'
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
    return e && head && rulebook.data.value ? draftSheet(e, head, rulebook.data.value) : undefined
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

/** The dry or the wet part of a sheet: which cylinder is cranked, and its pulls. */
export function usePulls(work: Work, mode: Mode) {
  const { sheet } = work
  const chosen = ref<number>()
  // Any cylinder may be oiled; those that are asked for, and those that were, come first.
  const cells = computed(() => {
    if (mode === 'dry') return sheet.value?.cells ?? []
    const wet = sheet.value?.wet ?? []
    const first = (c: (typeof wet)[number]) => c.asked || c.pulls.length > 0
    return [...wet.filter(first), ...wet.filter((c) => !first(c))]
  })
  const prompt = computed(() => (mode === 'dry' ? sheet.value?.prompt : sheet.value?.wet_prompt))
  const last = computed(() => (mode === 'dry' ? sheet.value?.last : sheet.value?.wet_last))
  const order = computed(() => cells.value.map((c) => c.cylinder))
  // A pull may be seen on the sheet, by news from the server, before the answer to it is here: it counts once.
  const kept = computed(() => new Set(cells.value.flatMap((c) => c.pulls.map((p) => p.key))))
  const waiting = computed(() => work.waiting('pull').filter((e) => e.body.mode === mode && !kept.value.has(e.id)))
  const waitingFor = (cylinder: number) => waiting.value.filter((e) => e.body.cylinder === cylinder)
  watch(last, () => (chosen.value = undefined))

  // While a figure is being typed the cylinder stays, whatever news comes in: it must not land in another's row.
  const held = ref<number>()
  const hold = (typing: boolean) => (held.value = typing ? current.value : undefined)

  /** The cylinder to crank: the one chosen, else what the sheet asks for; while cut off, as many readings each as the protocol asks for, in order. */
  const current = computed((): number => {
    if (held.value ?? chosen.value) return held.value ?? chosen.value!
    const asked = prompt.value?.cylinder || (order.value.at(mode === 'dry' ? -1 : 0) ?? 0)
    if (waiting.value.length === 0) return asked
    const enough = (c: number) => {
      const cell = cells.value.find((x) => x.cylinder === c)!
      return (
        cell.settled || cell.pulls.filter((p) => !p.struck).length + waitingFor(c).length >= (sheet.value?.enough ?? 0)
      )
    }
    const from = order.value.indexOf(asked)
    return [...order.value.slice(from), ...order.value.slice(0, from)].find((c) => !enough(c)) ?? asked
  })

  function choose(cylinder: number | undefined) {
    if (held.value) held.value = cylinder
    chosen.value = cylinder
  }

  function pull(value: number, unit: Schemas['PullBody']['unit'], more: Partial<Schemas['PullBody']>) {
    const cylinder = current.value
    chosen.value = undefined
    return work.enter('pull', { cylinder, mode, value, unit, tester: sheet.value?.session.gauge, ...more })
  }

  function move(by: number) {
    const at = order.value.indexOf(current.value)
    choose(order.value[(at + by + order.value.length) % order.value.length])
  }

  return { mode, cells, prompt, last, current, waiting, waitingFor, choose, hold, pull, move }
}
