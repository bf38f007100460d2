<script setup lang="ts">
import { nextTick, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { longDate } from '@/composables/useFormat'
import { sayer } from '@/words/say'
import texts from '@/words/en/season.json'
import { carOf, carsFor, type Board, type Cell, type Row } from './useSeason'
import { heard, percent, running, workWords } from './words'

const says = sayer(texts)

/** The season: engines down, events across. One cell has the focus's turn; arrows move it, Enter opens it. A start is also dragged to
 * another engine that fits its car. */
const props = defineProps<{ board: Board; from: number }>()
const emit = defineEmits<{
  open: [row: Row, at: number]
  event: [at: number]
  drop: [from: string, to: string, at: number]
}>()
const next = props.board.meetings.findIndex((m) => !m.past)
const turn = ref({ row: 0, column: Math.max(props.from, next) })
const grid = ref<HTMLElement>()

async function move(event: KeyboardEvent, down: number, across: number) {
  event.preventDefault()
  const { engines, meetings } = props.board
  turn.value = {
    row: Math.min(Math.max(turn.value.row + down, 0), engines.length - 1),
    column: Math.min(Math.max(turn.value.column + across, props.from), meetings.length - 1),
  }
  await nextTick()
  grid.value?.querySelector<HTMLElement>('[data-cell][tabindex="0"]')?.focus()
}
function go(event: KeyboardEvent) {
  const steps: Record<string, [number, number]> = {
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
    ArrowRight: [0, 1],
    ArrowLeft: [0, -1],
  }
  const step = steps[event.key]
  if (step) void move(event, ...step)
}
const dragged = ref<{ engine: string; at: number; car: string }>()
/** Whether what is dragged may be let go there: over the same event, on an engine that fits the car. */
const takes = (r: Row, k: number) =>
  !!dragged.value &&
  dragged.value.at === k &&
  dragged.value.engine !== r.engine &&
  carsFor(props.board, r.engine, k).some((c) => c.id === dragged.value!.car)
function over(event: DragEvent, r: Row, k: number) {
  if (takes(r, k)) event.preventDefault()
}
function letGo(r: Row, k: number) {
  if (takes(r, k)) emit('drop', dragged.value!.engine, r.engine, k)
  dragged.value = undefined
}
const shade = (c: Cell) => (c.car ? `chance-${c.level ?? 'none'}` : '')
</script>

<template>
  <div class="overflow-x-auto" data-grid>
    <table ref="grid" class="border-separate border-spacing-x-1 border-spacing-y-1.5" role="grid" @keydown="go">
      <thead>
        <tr>
          <td class="sticky left-0 z-10 min-w-60 bg-paper" />
          <th
            v-for="(m, k) in board.meetings"
            v-show="k >= from"
            :key="m.id"
            scope="col"
            class="min-w-28 max-w-36 border-b border-rule px-1 pb-1 text-left align-bottom font-normal"
            :class="{ 'text-soft': m.past, 'shadow-[inset_0_-4px_0_var(--verdigris)]': k === next }"
          >
            <button class="min-h-11 w-full text-left" data-event @click="emit('event', k)">
              <span class="figures block text-[0.85rem]">{{ longDate(m.date) }}</span>
              <span class="block leading-tight font-semibold">{{ m.name }}</span>
            </button>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(r, i) in board.engines" :key="r.engine" :data-row="r.name">
          <th scope="row" class="sticky left-0 z-10 max-w-72 bg-paper pr-3 text-left align-top font-normal">
            <RouterLink :to="`/engines/${r.engine}`" class="text-lg font-semibold hover:underline">{{
              r.name
            }}</RouterLink>
            <span class="block text-[0.92rem] leading-snug" :class="r.repair ? 'font-semibold' : 'text-soft'">{{
              r.sentence
            }}</span>
          </th>
          <td v-for="(c, k) in r.cells" v-show="k >= from" :key="c.meeting" class="p-0 align-top" role="gridcell">
            <button
              data-cell
              :tabindex="turn.row === i && turn.column === k ? 0 : -1"
              class="cell"
              :class="[shade(c), board.meetings[k]!.past ? 'opacity-70' : '', takes(r, k) ? 'takes' : '']"
              :draggable="!!c.car && !board.meetings[k]!.past"
              @dragstart="dragged = c.car ? { engine: r.engine, at: k, car: c.car } : undefined"
              @dragend="dragged = undefined"
              @dragover="over($event, r, k)"
              @drop.prevent="letGo(r, k)"
              @focus="turn = { row: i, column: k }"
              @click="emit('open', r, k)"
            >
              <span class="sr-only">{{ heard(c, r.name, board.meetings[k]!.name) }}</span>
              <span v-for="j in c.jobs" :key="j.id" class="job" :class="{ 'line-through': j.done }">{{
                workWords(j.work)
              }}</span>
              <template v-if="c.car">
                <span v-if="c.broke" class="text-lg leading-tight font-semibold">{{ says('broke') }}</span>
                <span v-else-if="c.ran !== undefined" class="figures text-lg font-semibold"
                  >{{ running(c.ran) }}<small class="ml-1 font-sans font-normal">{{ r.unit }}</small></span
                >
                <span v-else-if="r.repair && !c.chance" class="text-lg leading-tight font-semibold">{{
                  says('repair')
                }}</span>
                <span v-else-if="c.level" class="figures text-2xl leading-none font-semibold"
                  >{{ percent(c.chance ?? 0) }}<small class="text-base font-normal">%</small></span
                >
                <span v-else class="text-lg">{{ c.unknown ? '?' : '·' }}</span>
                <span class="block truncate text-[0.85rem]"
                  >{{ carOf(board, c.car) }}<b v-if="c.pinned"> ·{{ says('pinned') }}</b></span
                >
              </template>
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.cell {
  display: flex;
  min-height: 4.7rem;
  width: 100%;
  max-width: 9rem;
  flex-direction: column;
  align-items: flex-start;
  justify-content: flex-end;
  gap: 0.1rem;
  padding: 0.3rem 0.5rem;
  text-align: left;
  border: 1px solid var(--track);
}
.takes {
  border: 2px dashed var(--verdigris);
}
.chance-fine {
  background: var(--verdigris-pale);
}
.chance-near {
  background: var(--steady);
  color: #17242b;
}
.chance-over {
  background: var(--watch);
  color: #fff;
}
.chance-far {
  background: var(--act);
  color: #fff;
}
.job {
  font-size: 0.85rem;
  font-weight: 600;
  line-height: 1.1;
  border-bottom: 2px solid currentColor;
}
</style>
