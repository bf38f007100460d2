import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage, watchDebounced } from '@vueuse/core'
import { nanoid } from 'nanoid'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { drop, tellAll, type Typed } from '@/outbox/useOutbox'
import { emptyRow, isEmpty, type Row } from './grid'
import { choice } from '@/composables/shown'
import { sayer } from '@/words/say'
import texts from '@/words/en/old-tests.json'

const says = sayer(texts)

/** What was typed and is not on record yet: rows of new tests, and rows on record that were typed over. It stays on this device. */
interface Draft {
  fresh: Row[]
  edited: Record<string, Row>
}

/** What stood in a row before it was typed over. */
const plain = ({ date, meter, temp, gauge, note, cells }: Row) => ({ date, meter, temp, gauge, note, cells })

/** As many rows on record are shown at first. */
const mostShown = 60

/** The grid of an engine's tests: what is on record, what is typed over it, what of that can be read and what it comes to. */
export function useGrid(engine: string) {
  const client = useQueryClient()
  const query = useQuery({
    queryKey: ['paper', engine],
    queryFn: () => ask(api.GET('/api/engines/{engine}/paper', { params: { path: { engine } } })),
  })
  const page = computed(() => query.data.value)
  const cylinders = computed(() => page.value?.cylinders.map((c) => c.cylinder) ?? [])
  const draft = useLocalStorage<Draft>(`braxel.old.${engine}`, { fresh: [], edited: {} })

  const whole = (r: Schemas['PaperRow']): Row => ({ ...emptyRow(r.key, cylinders.value.length), ...r })
  const kept = computed(() => (page.value?.rows ?? []).map(whole))
  /** A row to be typed: in the unit chosen, where one is; it stands in its column. */
  const blank = (key: string): Row => ({ ...emptyRow(key, cylinders.value.length), unit: choice.value.pressure ?? '' })
  const fresh = () => blank(nanoid(8))
  /** Many old rows are folded away until somebody wants them. */
  const folded = ref(true)
  const hidden = computed(() => (folded.value ? Math.max(0, kept.value.length - mostShown) : 0))
  /** The empty row below all, where the next test is begun; its key stays with it. */
  const next = ref(nanoid(8))
  const rows = computed(() => [
    ...kept.value.slice(hidden.value).map((r) => draft.value.edited[r.key] ?? r),
    ...draft.value.fresh,
    blank(next.value),
  ])

  function put(changed: Row[]) {
    const onRecord = new Map(kept.value.map((r) => [r.key, r]))
    const edited = { ...draft.value.edited }
    const added: Row[] = []
    for (const row of changed) {
      const was = onRecord.get(row.key)
      if (!was) added.push(row)
      else if (JSON.stringify(was) === JSON.stringify({ ...row, was: undefined })) delete edited[row.key]
      else edited[row.key] = { ...row, was: draft.value.edited[row.key]?.was ?? plain(was) }
    }
    while (added.length && isEmpty(added.at(-1)!)) added.pop()
    if (added.some((r) => r.key === next.value)) next.value = nanoid(8)
    draft.value = { fresh: added, edited }
  }

  /** All rows of the tests that were typed over, and the new ones: what is not touched is not sent. */
  const toRead = computed(() => {
    const touched = new Set(Object.values(draft.value.edited).map((r) => r.test))
    return [
      ...kept.value.map((r) => draft.value.edited[r.key] ?? r).filter((r) => touched.has(r.test)),
      ...draft.value.fresh,
    ]
  })
  const result = ref<Schemas['PaperResult']>()
  const away = ref(false)
  let asked = 0
  /** Reads the rows as they stand now, and shows what they come to, unless a newer reading is under way. */
  async function read() {
    const mine = ++asked
    if (!page.value || toRead.value.length === 0) return (result.value = undefined)
    try {
      const out = await ask(
        api.POST('/api/engines/{engine}/paper', { params: { path: { engine } }, body: { rows: toRead.value } }),
      )
      if (mine === asked) result.value = out
      away.value = false
      return out
    } catch {
      if (mine === asked) away.value = true
    }
  }
  watchDebounced([toRead, page], read, { debounce: 150, immediate: true, deep: true })

  const refused = ref<Record<string, string>>({})
  /** Puts on record what can be read, and says how many tests of it were; a row that is refused stays, with the reason. */
  async function keep(): Promise<{ kept: number; waits: boolean }> {
    const out = await read() // what is shown may be an earlier reading still
    if (!out?.entries.length) return { kept: 0, waits: false }
    const entries = out.entries.map((e) => ({ kind: e.kind, engine, body: e.body }) as Typed)
    const came = await tellAll(entries)
    refused.value = {}
    for (const [i, outcome] of came.entries()) {
      if (outcome.is !== 'refused') continue
      refused.value[out.entries[i]!.row] ??= outcome.answer?.why ?? says('not-saved')
      await drop(outcome.entry.id)
    }
    const done = new Set(out.entries.map((e) => e.row).filter((row) => !refused.value[row]))
    const gone = new Set(out.tests.filter((t) => t.rows.some((r) => done.has(r))).flatMap((t) => t.rows))
    draft.value = {
      fresh: draft.value.fresh.filter((r) => !gone.has(r.key)),
      edited: Object.fromEntries(Object.entries(draft.value.edited).filter(([key]) => !gone.has(key))),
    }
    await client.invalidateQueries({ queryKey: ['paper', engine] })
    return { kept: done.size, waits: came.some((o) => o.is === 'waiting') }
  }

  return { query, page, cylinders, rows, hidden, folded, fresh, put, result, away, refused, keep, draft }
}
