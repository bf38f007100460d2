<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useMediaQuery } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { seasonQuery } from '@/api/queries'
import { useKeys } from '@/composables/useKeys'
import { longDate } from '@/composables/useFormat'
import { usePageTitle } from '@/composables/usePageTitle'
import CarDialog from '@/season/CarDialog.vue'
import CellDialog from '@/season/CellDialog.vue'
import EventDialog from '@/season/EventDialog.vue'
import NextEvent from '@/season/NextEvent.vue'
import PasteDialog from '@/season/PasteDialog.vue'
import PlanOffer from '@/season/PlanOffer.vue'
import SaidAndHeld from '@/season/SaidAndHeld.vue'
import SeasonGrid from '@/season/SeasonGrid.vue'
import SeasonList from '@/season/SeasonList.vue'
import TermsDialog from '@/season/TermsDialog.vue'
import { instead, type Head } from '@/season/useSeason'
import { useTold } from '@/season/useTold'
import { sayer } from '@/words/say'
import texts from '@/words/en/season.json'

const says = sayer(texts)

const season = useQuery(seasonQuery)
const board = computed(() => season.data.value)
const { problem, told } = useTold()
const wide = useMediaQuery('(min-width: 768px)')
const whole = ref(false)

const cell = ref<{ engine: string; at: number }>()
const event = ref<{ was?: Head }>()
const car = ref<{ was?: Schemas['AheadCar'] }>()
const pasting = ref(false)
const terms = ref(false)
const offer = ref<InstanceType<typeof PlanOffer>>()
const nextAt = computed(() => board.value?.meetings.findIndex((m) => !m.past) ?? -1)
/** Events of earlier years are shown when they are asked for. */
const earlier = ref(false)
const from = computed(() => (earlier.value ? 0 : (board.value?.from ?? 0)))
const ready = computed(() => !!board.value?.meetings.length && !!board.value.cars.length)
const addEvent = () => (event.value = {})
useKeys([
  { keys: ['n'], does: says('add-event'), run: addEvent },
  { keys: ['p'], does: says('plan'), run: () => void offer.value?.search() },
])
usePageTitle(() => [says('season')])
</script>

<template>
  <main class="mx-auto max-w-[1900px] px-4 py-5 sm:px-6">
    <header class="flex flex-wrap items-baseline gap-x-6 gap-y-2">
      <h1 class="text-3xl font-semibold">{{ says('season') }}</h1>
      <p v-if="board" class="text-soft">{{ longDate(board.today) }}</p>
      <div class="ml-auto flex flex-wrap gap-x-4 print:hidden">
        <button v-if="ready" class="button-main" data-plan @click="offer?.search()">{{ says('plan') }}</button>
        <a v-if="ready" href="/api/season.pdf" target="_blank" class="link flex min-h-11 items-center">{{
          says('print')
        }}</a>
        <button class="link min-h-11" data-terms @click="terms = true">{{ says('terms') }}</button>
      </div>
    </header>
    <p v-if="season.isError.value" role="alert" class="py-8">{{ says('cant-reach') }}</p>
    <template v-if="board">
      <section v-if="!ready" class="mt-4 max-w-2xl" data-begin>
        <p class="text-xl">{{ says('what-season-does') }}</p>
        <ol class="mt-3 list-decimal pl-6">
          <li :class="{ 'text-soft line-through': board.meetings.length }">{{ says('first-events') }}</li>
          <li :class="{ 'text-soft line-through': board.cars.length }">{{ says('then-cars') }}</li>
          <li>{{ says('then-plan') }}</li>
        </ol>
      </section>
      <ul v-if="board.problems.length" class="mt-3" role="alert" data-problems>
        <li v-for="p in board.problems" :key="p.words" class="border-l-4 border-watch py-0.5 pl-3">{{ p.words }}</li>
      </ul>
      <p v-if="board.pending" role="status" class="mt-2">{{ says('weighing', { n: board.pending }) }}</p>
      <p v-if="board.words" class="mt-3 text-xl font-semibold" data-asks>{{ board.words }}</p>
      <PlanOffer ref="offer" :board="board" />

      <template v-if="ready && wide">
        <SeasonGrid
          class="mt-5"
          :board="board"
          :from="from"
          @open="(r, at) => (cell = { engine: r.engine, at })"
          @event="(at) => (event = { was: board!.meetings[at] })"
          @drop="(was, engine, at) => told(instead(board!, at, was, engine))"
        />
        <p v-if="problem" role="alert" class="mt-1 font-semibold">{{ problem.detail }}</p>
        <p class="mt-1 text-[0.92rem] text-soft">{{ says('how-read') }}</p>
        <button v-if="from" class="link min-h-11" data-earlier @click="earlier = true">
          {{ says('earlier', { n: from }) }}
        </button>
      </template>

      <div class="mt-6 grid gap-8 md:grid-cols-2">
        <NextEvent
          v-if="board.next"
          :next="board.next"
          :today="board.today"
          @open="(engine) => (cell = { engine, at: nextAt })"
        />
        <div>
          <section v-if="ready && wide" data-record>
            <h2 class="border-b border-rule pb-1 text-xl font-semibold">{{ says('said-and-came') }}</h2>
            <p class="mt-1 text-lg">{{ board.record.words }}</p>
            <table v-if="board.record.told.length" class="mt-1">
              <tbody>
                <template v-for="b in board.record.bins" :key="b.said">
                  <tr v-if="b.of">
                    <td class="pr-4">{{ says('said', { said: Math.round(100 * b.said) }) }}</td>
                    <td class="figures pr-4">{{ says('held', { held: b.held, of: b.of }) }}</td>
                    <td class="w-40"><SaidAndHeld :bin="b" /></td>
                  </tr>
                </template>
              </tbody>
            </table>
            <details v-if="board.record.told.length" class="mt-1">
              <summary class="flex min-h-11 cursor-pointer items-center text-verdigris underline">
                {{ says('each-of-them') }}
              </summary>
              <ul>
                <li v-for="t in board.record.told" :key="t.engine + t.meeting + t.test" class="py-0.5">
                  {{ t.words }}
                </li>
              </ul>
            </details>
          </section>
          <section class="mt-6 print:hidden" :class="{ 'max-md:mt-0': true }">
            <h2 class="border-b border-rule pb-1 text-xl font-semibold">{{ says('cars') }}</h2>
            <ul>
              <li v-for="c in board.cars" :key="c.id">
                <button class="link min-h-11" data-car @click="car = { was: c }">{{ c.name }}</button>
              </li>
            </ul>
            <div class="mt-2 flex flex-wrap gap-3">
              <button class="button-plain" data-add-event @click="addEvent">{{ says('add-event') }}</button>
              <button class="button-plain" data-paste @click="pasting = true">{{ says('paste-events') }}</button>
              <button class="button-plain" data-add-car @click="car = {}">{{ says('add-car') }}</button>
            </div>
          </section>
        </div>
      </div>
      <section v-if="ready && !wide" class="mt-6">
        <button class="button-plain w-full" :aria-expanded="whole" data-whole @click="whole = !whole">
          {{ whole ? says('next-only') : says('whole-season') }}
        </button>
        <SeasonList
          v-if="whole"
          :board="board"
          :from="from"
          @open="(engine, at) => (cell = { engine, at })"
          @event="(at) => (event = { was: board!.meetings[at] })"
        />
        <p v-if="whole" class="mt-3">{{ board.record.words }}</p>
      </section>

      <CellDialog
        :open="!!cell"
        :board="board"
        :engine="cell?.engine ?? ''"
        :at="cell?.at ?? 0"
        @close="cell = undefined"
      />
      <EventDialog :open="!!event" :board="board" :was="event?.was" @close="event = undefined" />
      <CarDialog :open="!!car" :board="board" :was="car?.was" @close="car = undefined" />
      <PasteDialog :open="pasting" @close="pasting = false" />
      <TermsDialog :open="terms" :board="board" @close="terms = false" />
    </template>
  </main>
</template>
