<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import StateMark from '@/components/StateMark.vue'
import { useKeys } from '@/composables/useKeys'
import { usePageTitle } from '@/composables/usePageTitle'
import { blockOf, columnName, columnOf, heads, isEmpty, pasted, textAt, withText } from '@/old/grid'
import { useGrid } from '@/old/useGrid'
import { sayer } from '@/words/say'
import texts from '@/words/en/old-tests.json'

const says = sayer(texts)

const props = defineProps<{ engine: string }>()
const grid = useGrid(props.engine)
const { page, cylinders, rows, hidden, folded, result, away, refused } = grid
const columns = computed(() => heads.length + cylinders.value.length + 1)
const table = useTemplateRef('table')

const titles = computed(() => [
  { words: says('date'), wide: 'min-w-25' },
  {
    words: page.value?.meter_unit ? says('meter-in', { unit: page.value.meter_unit }) : says('meter'),
    wide: 'min-w-16',
  },
  { words: says('hot-cold'), wide: 'min-w-14' },
  { words: says('gauge'), wide: 'min-w-24' },
  { words: says('what'), wide: 'min-w-12' },
  { words: says('unit'), wide: 'min-w-14' },
])

const faults = computed(() => new Map((result.value?.faults ?? []).map((f) => [`${f.row} ${f.column}`, f] as const)))
const faultAt = (row: string, column: number) => faults.value.get(`${row} ${columnName(column, cylinders.value)}`)
const places = computed(() => new Map(rows.value.map((r, i) => [r.key, i + 1])))
const told = computed(() => new Map((result.value?.tests ?? []).map((t) => [t.key, t])))
const isTyped = (key: string) => grid.draft.value.fresh.some((r) => r.key === key) || !!grid.draft.value.edited[key]

function type(row: number, column: number, text: string) {
  const all = [...rows.value]
  let line = withText(all[row]!, column, text)
  // A new test is most often read with the gauge of the one above, in its unit.
  const above = all[row - 1]
  if (column === 0 && above && isEmpty(all[row]!))
    line = { ...line, gauge: line.gauge || above.gauge, temp: line.temp || above.temp, unit: above.unit }
  all[row] = line
  grid.put(all)
}
function paste(row: number, column: number, event: ClipboardEvent) {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (!/[\t\n]/.test(text.trimEnd())) return // one cell: the field takes it
  event.preventDefault()
  grid.put(pasted(rows.value, { row, column }, blockOf(text), cylinders.value, grid.fresh))
}

function focus(row: number, column: number) {
  table.value?.querySelector<HTMLInputElement>(`[data-at="${row} ${column}"]`)?.focus()
}
/** Arrows and Enter move as in a spreadsheet; inside a text the arrows are the text's, until it ends. */
function press(row: number, column: number, event: KeyboardEvent) {
  const field = event.target as HTMLInputElement
  const whole = field.selectionStart === 0 && field.selectionEnd === field.value.length
  const at = field.selectionStart ?? 0
  // A full stop alone is the same as above, and on to the next cell.
  if (event.key === '.' && row > 0 && (whole || field.value === '') && !event.ctrlKey && !event.metaKey) {
    event.preventDefault()
    type(row, column, textAt(rows.value[row - 1]!, column))
    return void nextTick(() => focus(row, Math.min(column + 1, columns.value - 1)))
  }
  // What came from the row above is passed by: from the meter to the first cylinder, and from the last one to the next test.
  const filled = isTyped(rows.value[row]!.key) && rows.value[row]!.temp !== '' && rows.value[row]!.gauge !== ''
  const onward =
    event.key === 'Tab' && !event.shiftKey && column === 1 && filled
      ? [row, heads.length]
      : event.key === 'Enter' && !event.shiftKey && column === columns.value - 2 && row === rows.value.length - 2
        ? [row + 1, 0]
        : undefined
  if (onward) {
    event.preventDefault()
    return void nextTick(() => focus(onward[0]!, onward[1]!))
  }
  const steps: Record<string, [number, number] | undefined> = {
    Enter: event.shiftKey ? [-1, 0] : [1, 0],
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
    ArrowRight: whole || at === field.value.length ? [0, 1] : undefined,
    ArrowLeft: whole || at === 0 ? [0, -1] : undefined,
  }
  const step = event.ctrlKey || event.metaKey || event.altKey ? undefined : steps[event.key]
  if (!step) return
  event.preventDefault()
  const [r, c] = [row + step[0], column + step[1]]
  if (r >= 0 && r < rows.value.length && c >= 0 && c < columns.value) void nextTick(() => focus(r, c))
}

/** Where the hand is, and what there is to say of it: why it cannot be read, what was refused, what its test comes to. */
const at = ref({ row: 0, column: 0 })
function enter(row: number, column: number, event: Event) {
  at.value = { row, column }
  ;(event.target as HTMLInputElement).select()
}
const said = computed(() => {
  const row = rows.value[at.value.row]
  if (!row) return ''
  const test = result.value?.tests.find((t) => t.rows.includes(row.key))
  const fault = faultAt(row.key, at.value.column) ?? result.value?.faults.find((f) => f.row === row.key)
  return refused.value[test?.key ?? row.key] ?? fault?.what ?? test?.sentence ?? ''
})
// The next test is typed into the empty row below all.
watch(page, (is, was) => is && !was && void nextTick(() => focus(rows.value.length - 1, 0)), {
  immediate: true,
  flush: 'post',
})

const sound = computed(() => {
  const bad = new Set((result.value?.faults ?? []).map((f) => f.row))
  return (result.value?.tests ?? []).filter((t) => !t.rows.some((r) => bad.has(r)))
})
const word = ref('')
async function keep() {
  const { kept, waits } = await grid.keep()
  const tests = says('tests', { n: kept })
  word.value = kept === 0 ? '' : waits ? says('waiting-to-be-sent', { tests }) : says('saved', { tests })
}

usePageTitle(() => [page.value?.name, says('old-tests')])
useKeys([
  { keys: ['Tab'], does: says('next-cell-from-meter') },
  { keys: ['Enter'], does: says('cell-below-with-shift-above') },
  { keys: ['↑', '↓', '←', '→'], does: says('from-cell-cell') },
  { keys: ['.'], does: says('same-as-above') },
  { keys: ['Ctrl+V'], does: says('paste-block-from-spreadsheet') },
])
</script>

<template>
  <main v-if="page" class="mx-auto max-w-[1920px] px-4 py-5 sm:px-6">
    <div class="flex flex-wrap items-end gap-x-8 gap-y-2">
      <h1 class="text-3xl font-semibold">
        <RouterLink :to="`/engines/${engine}`">{{ page.name }}</RouterLink><span class="font-normal text-soft">
          {{ says('old-tests-2') }}</span
        >
      </h1>
      <span v-if="word" role="status" class="ml-auto text-lg font-semibold" data-word>{{ word }}</span>
      <button
        class="button-main min-h-12 text-lg"
        :class="{ 'ml-auto': !word }"
        :disabled="!sound.length || away"
        @click="keep"
      >
        {{
          sound.length === 1
            ? says('save-test')
            : sound.length
              ? says('save-tests', { n: sound.length })
              : says('nothing-save-yet')
        }}
      </button>
    </div>
    <p class="mt-1 text-soft">
      {{ says('one-row-test-one-column') }} <span class="figures text-ink">145/147</span
      >{{ says('leak-percent-with-where-you') }} <span class="figures text-ink">7e2</span> (<span
        class="figures text-ink"
        >c i e w n p</span
      >{{ says('as-run-sheet') }} <span class="figures text-ink">{{ says('none') }}</span>
      {{ says('if-you-listened-heard-nothing') }} <span class="figures text-ink">{{ says('93-100') }}</span>.
    </p>
    <p v-if="away" role="alert" class="mt-2 border-l-4 border-watch pl-3">
      {{ says('cant-reach-braxel-what-you') }}
    </p>
    <button v-if="hidden" class="link mt-2 min-h-11" @click="folded = false">
      {{ says('show-older-rows', { hidden }) }}
    </button>
    <p class="mt-2 line-clamp-2 min-h-13 text-lg leading-snug" aria-live="polite" data-said>
      <b v-if="said">{{ says('row', { at: at.row + 1 }) }}</b> {{ said }}
    </p>
    <div class="relative mt-1 max-h-[66vh] overflow-auto" role="region" :aria-label="says('grid-tests')" tabindex="0">
      <table ref="table" class="w-full border-collapse">
        <thead class="sticky top-0 z-10 bg-paper text-left text-[0.9rem] text-soft">
          <tr>
            <th scope="col" class="px-1.5 font-normal">{{ says('verdict') }}</th>
            <th v-for="t in titles" :key="t.words" scope="col" class="px-1.5 font-normal" :class="t.wide">
              {{ t.words }}
            </th>
            <th
              v-for="c in page.cylinders"
              :key="c.cylinder"
              scope="col"
              class="figures min-w-17 px-1.5 text-lg font-semibold text-ink"
            >
              {{ c.cylinder }}<span v-if="c.name" class="ml-1 text-[0.85rem] font-normal text-soft">{{ c.name }}</span>
            </th>
            <th scope="col" class="min-w-24 px-1.5 font-normal">{{ says('note') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(r, i) in rows" :key="r.key" :class="{ 'bg-sheet': isTyped(r.key) }" data-row>
            <th scope="row" class="px-1 text-left font-normal whitespace-nowrap">
              <span class="figures mr-2 inline-block w-7 text-right text-[0.85rem] text-soft">{{ i + 1 }}</span>
              <StateMark v-if="told.get(r.key)" :state="told.get(r.key)!.state" :title="told.get(r.key)!.sentence" />
            </th>
            <td v-for="c in columns" :key="c" class="border border-rule p-0">
              <input
                class="min-h-10 w-full scroll-my-24 bg-transparent px-1 aria-invalid:bg-act/15 aria-invalid:font-semibold"
                :class="{ 'figures text-[0.88rem]': c - 1 < 2 || (c - 1 >= heads.length && c < columns) }"
                :value="textAt(r, c - 1)"
                :data-at="`${i} ${c - 1}`"
                :aria-label="says('row-2', { cylinders: columnName(c - 1, cylinders), row: i + 1 })"
                :aria-invalid="!!faultAt(r.key, c - 1)"
                :title="faultAt(r.key, c - 1)?.what"
                autocomplete="off"
                @input="type(i, c - 1, ($event.target as HTMLInputElement).value)"
                @paste="paste(i, c - 1, $event)"
                @keydown="press(i, c - 1, $event)"
                @focus="enter(i, c - 1, $event)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <ul v-if="result?.faults.length" class="mt-3" aria-live="polite" data-faults>
      <li v-for="f in result.faults" :key="`${f.row} ${f.column}`">
        <button class="link min-h-9" @click="focus(places.get(f.row)! - 1, columnOf(f.column, cylinders))">
          {{ says('row-3', { row: places.get(f.row), column: f.column }) }}</button>: {{ f.what }}
      </li>
    </ul>
    <p class="mt-3 text-soft">
      {{ says('what-you-type-stays-device') }}
      <RouterLink :to="`/engines/${engine}/record`" class="link">{{ says('history') }}</RouterLink>
      {{ says('keeps-both') }}
    </p>
  </main>
  <main v-else-if="grid.query.isError.value" class="p-6" role="alert">
    {{ grid.query.error.value?.message }}.
    <RouterLink :to="`/engines/${engine}`" class="link">{{ says('back-engine') }}</RouterLink>
  </main>
</template>
