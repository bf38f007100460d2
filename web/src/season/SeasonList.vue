<script setup lang="ts">
import { longDate } from '@/composables/useFormat'
import { sayer } from '@/words/say'
import texts from '@/words/en/season.json'
import { carOf, type Board } from './useSeason'
import { percent, running, workWords } from './words'

const says = sayer(texts)

/** The season on a narrow screen: event by event, each with the engines that could run. */
const props = defineProps<{ board: Board; from: number }>()
defineEmits<{ open: [engine: string, at: number]; event: [at: number] }>()
/** Of an event that is over, only who ran there. */
const rows = (k: number) =>
  props.board.meetings[k]!.past ? props.board.engines.filter((r) => r.cells[k]!.car) : props.board.engines
</script>

<template>
  <ol data-list>
    <li v-for="(m, k) in board.meetings" v-show="k >= from" :key="m.id" class="mt-4" :class="{ 'opacity-70': m.past }">
      <button
        class="flex min-h-11 w-full items-baseline gap-3 border-b border-rule text-left"
        @click="$emit('event', k)"
      >
        <b class="text-lg font-semibold">{{ m.name }}</b><span class="text-soft">{{ longDate(m.date) }}</span>
      </button>
      <button
        v-for="r in rows(k)"
        :key="r.engine"
        class="flex min-h-11 w-full items-center gap-3 border-b border-track text-left"
        data-cell
        @click="$emit('open', r.engine, k)"
      >
        <span class="w-24 font-semibold">{{ r.name }}</span>
        <span class="grow text-soft"
          >{{ r.cells[k]!.car ? carOf(board, r.cells[k]!.car!) : says('not-here') }}
          <template v-for="j in r.cells[k]!.jobs" :key="j.id"> · {{ workWords(j.work) }}</template></span
        >
        <span class="figures font-semibold">
          <template v-if="r.cells[k]!.broke">{{ says('broke') }}</template>
          <template v-else-if="r.cells[k]!.ran !== undefined">{{ running(r.cells[k]!.ran!) }} {{ r.unit }}</template>
          <span v-else-if="r.repair && r.cells[k]!.car && !r.cells[k]!.chance" class="font-sans">{{
            says('repair')
          }}</span>
          <template v-else-if="r.cells[k]!.level">{{ percent(r.cells[k]!.chance ?? 0) }}%</template>
        </span>
      </button>
    </li>
  </ol>
</template>
