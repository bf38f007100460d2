import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { nanoid } from 'nanoid'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useOutbox } from './useOutbox'

export type Sheet = Schemas['Sheet']

/** A run sheet: what the server has of it, what is still on its way there, and what the person does to it. */
export function useSheet(engine: string, session: string) {
  const base = `/api/engines/${encodeURIComponent(engine)}/sessions/${encodeURIComponent(session)}`
  const queryKey = ['sheet', engine, session]
  const client = useQueryClient()
  const query = useQuery({
    queryKey,
    queryFn: () =>
      ask(api.GET('/api/engines/{engine}/sessions/{session}/sheet', { params: { path: { engine, session } } })),
  })
  const chosen = ref<number>()
  const outbox = useOutbox<Sheet>(`${engine}/${session}`, (answer) => {
    client.setQueryData(queryKey, answer)
    chosen.value = undefined
    void client.invalidateQueries({ queryKey: ['engine', engine] })
    void client.invalidateQueries({ queryKey: ['rack'] })
  })

  const sheet = computed(() => query.data.value)
  const order = computed(() => sheet.value?.cells.map((c) => c.cylinder) ?? [])
  const waitingFor = (cylinder: number) =>
    outbox.waiting.value.filter((e) => e.path === `${base}/pulls` && e.body.cylinder === cylinder)

  /** The cylinder to crank: the one chosen, else what the sheet asks for; while cut off, two pulls each in order. */
  const current = computed(() => {
    if (chosen.value) return chosen.value
    if (outbox.refused.value?.entry.body.cylinder) return outbox.refused.value.entry.body.cylinder as number
    if (!sheet.value) return 0
    const asked = sheet.value.prompt.cylinder || (order.value.at(-1) ?? 0)
    if (outbox.waiting.value.length === 0) return asked
    const enough = (c: number) => {
      const cell = sheet.value!.cells.find((x) => x.cylinder === c)!
      return cell.settled || cell.pulls.filter((p) => !p.struck).length + waitingFor(c).length >= 2
    }
    const from = order.value.indexOf(asked)
    return [...order.value.slice(from), ...order.value.slice(0, from)].find((c) => !enough(c)) ?? asked
  })

  function pull(value: number, unit: Schemas['PullIn']['unit']) {
    const body: Schemas['PullIn'] = {
      key: nanoid(),
      cylinder: current.value,
      mode: 'dry',
      value,
      unit,
      tester: sheet.value?.tester,
    }
    chosen.value = undefined
    return outbox.add(`${base}/pulls`, { ...body })
  }

  const strike = (key: string, why: string) => outbox.add(`${base}/pulls/${key}/strike`, { why })

  function move(by: number) {
    const at = order.value.indexOf(current.value)
    chosen.value = order.value[(at + by + order.value.length) % order.value.length]
  }

  const choose = (cylinder: number | undefined) => (chosen.value = cylinder)

  async function setHead(head: Schemas['SessionHead']) {
    client.setQueryData(
      queryKey,
      await ask(
        api.PUT('/api/engines/{engine}/sessions/{session}', { params: { path: { engine, session } }, body: head }),
      ),
    )
    void client.invalidateQueries({ queryKey: ['engine', engine] })
    void client.invalidateQueries({ queryKey: ['rack'] })
  }

  return { query, sheet, current, choose, outbox, waitingFor, pull, strike, move, setHead }
}
