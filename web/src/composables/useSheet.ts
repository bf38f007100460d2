import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useEventSource } from '@vueuse/core'
import { nanoid } from 'nanoid'
import { computed, ref, watch } from 'vue'
import { api, ask, type Problem, type Schemas } from '@/api/client'
import { useOutbox } from './useOutbox'

export type Sheet = Schemas['Sheet']
export type Mode = 'dry' | 'wet'

/** A run sheet: what the server has of it, what is still on its way there, and what the person does to it. */
export function useSheet(engine: string, session: string) {
  const base = `/api/engines/${encodeURIComponent(engine)}/sessions/${encodeURIComponent(session)}`
  const queryKey = ['sheet', engine, session]
  const client = useQueryClient()
  const query = useQuery({
    queryKey,
    queryFn: async () =>
      newer(
        await ask(api.GET('/api/engines/{engine}/sessions/{session}/sheet', { params: { path: { engine, session } } })),
      ),
  })
  const sheet = computed(() => query.data.value)

  /** Answers may overtake each other on the way: what is shown never goes back. */
  function newer(answer: Sheet): Sheet {
    const shown = client.getQueryData<Sheet>(queryKey)
    return shown && shown.revision > answer.revision ? shown : answer
  }
  function landed(answer: Sheet) {
    client.setQueryData(queryKey, newer(answer))
    void client.invalidateQueries({ queryKey: ['engine', engine] })
    void client.invalidateQueries({ queryKey: ['rack'] })
  }
  const outbox = useOutbox<Sheet>(`${engine}/${session}`, landed)

  // Another browser on the same sheet: its entries are here within a moment.
  const changes = useEventSource(`${base}/changes`, [], { autoReconnect: { delay: 1000 } })
  watch(changes.data, () => void query.refetch())

  const post = (kind: 'pulls' | 'leakdown' | 'observations' | 'ticks', body: object) =>
    outbox.add(`${base}/${kind}`, { ...body })
  const strike = (kind: 'pulls' | 'leakdown', key: string, why: string) =>
    outbox.add(`${base}/${kind}/${key}/strike`, { why })
  const waiting = (kind: string) => outbox.waiting.value.filter((e) => e.path === (kind ? `${base}/${kind}` : base))

  // What was refused of the head is shown beside its field until the next change.
  const headProblem = ref<Problem>()
  /** Changes the head of the test: what is given of it, and nothing else. */
  function patch(head: Schemas['SessionHead']) {
    headProblem.value = undefined
    return outbox.add(base, { ...head }, 'PATCH')
  }
  watch(outbox.refused, (r) => {
    if (r?.entry.method !== 'PATCH') return
    headProblem.value = r.problem
    void outbox.drop()
  })

  return { base, engine, session, query, sheet, outbox, post, strike, waiting, patch, headProblem }
}

export type Work = ReturnType<typeof useSheet>

/** The dry or the wet part of a sheet: which cylinder is cranked, and its pulls. */
export function usePulls(work: Work, mode: Mode) {
  const { sheet, outbox } = work
  const chosen = ref<number>()
  const cells = computed(
    () => (mode === 'dry' ? sheet.value?.cells : sheet.value?.wet.filter((c) => c.asked || c.pulls.length)) ?? [],
  )
  const prompt = computed(() => (mode === 'dry' ? sheet.value?.prompt : sheet.value?.wet_prompt))
  const last = computed(() => (mode === 'dry' ? sheet.value?.last : sheet.value?.wet_last))
  const order = computed(() => cells.value.map((c) => c.cylinder))
  // A pull may be seen on the sheet, by news from the server, before the answer to it is here: it counts once.
  const seen = computed(() => new Set(cells.value.flatMap((c) => c.pulls.map((p) => p.key))))
  const waiting = computed(() =>
    work.waiting('pulls').filter((e) => e.body.mode === mode && !seen.value.has(e.body.key as string)),
  )
  const waitingFor = (cylinder: number) => waiting.value.filter((e) => e.body.cylinder === cylinder)
  watch(last, () => (chosen.value = undefined))

  // While a figure is being typed the cylinder stays, whatever news comes in: it must not land in another's row.
  const held = ref<number>()
  const hold = (typing: boolean) => (held.value = typing ? current.value : undefined)

  /** The cylinder to crank: the one chosen, else what the sheet asks for; while cut off, two pulls each in order. */
  const current = computed((): number => {
    if (held.value ?? chosen.value) return held.value ?? chosen.value!
    const refused = outbox.refused.value?.entry.body
    if (refused?.mode === mode) return refused.cylinder as number
    const asked = prompt.value?.cylinder || (order.value.at(-1) ?? 0)
    if (waiting.value.length === 0) return asked
    const enough = (c: number) => {
      const cell = cells.value.find((x) => x.cylinder === c)!
      return cell.settled || cell.pulls.filter((p) => !p.struck).length + waitingFor(c).length >= 2
    }
    const from = order.value.indexOf(asked)
    return [...order.value.slice(from), ...order.value.slice(0, from)].find((c) => !enough(c)) ?? asked
  })

  function choose(cylinder: number | undefined) {
    if (held.value) held.value = cylinder
    chosen.value = cylinder
  }

  function pull(value: number, unit: Schemas['PullIn']['unit'], more: Partial<Schemas['PullIn']>) {
    const body: Schemas['PullIn'] = {
      key: nanoid(),
      cylinder: current.value,
      mode,
      value,
      unit,
      tester: sheet.value?.session.gauge,
      ...more,
    }
    chosen.value = undefined
    return work.post('pulls', body)
  }

  function move(by: number) {
    const at = order.value.indexOf(current.value)
    choose(order.value[(at + by + order.value.length) % order.value.length])
  }

  return { mode, cells, prompt, last, current, waitingFor, choose, hold, pull, move }
}
