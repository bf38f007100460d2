<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { sayer } from '@/words/say'
import texts from '@/words/en/season.json'
import { take, type Board } from './useSeason'
import { useTold } from './useTold'

const says = sayer(texts)

/** The plan made anew: searched for with a bar and a stop, what it changes item by item, and taken as a whole. */
const props = defineProps<{ board: Board }>()
const client = useQueryClient()
const { problem, told } = useTold()
const found = useQuery({
  queryKey: ['season', 'search'],
  queryFn: () => ask(api.GET('/api/season/search')),
  refetchInterval: (query) => (query.state.data?.running ? 250 : false),
})
const state = computed(() => found.data.value)
const offer = computed(() => (state.value?.running ? undefined : state.value?.offer))
async function asked(of: Promise<unknown>) {
  problem.value = undefined
  try {
    await of
    await client.invalidateQueries({ queryKey: ['season', 'search'] })
  } catch (error) {
    problem.value = { detail: (error as Error).message }
  }
}
const search = () => asked(ask(api.POST('/api/season/search')))
const stop = () => asked(ask(api.DELETE('/api/season/search')))
async function taken() {
  if (await told(take(props.board, offer.value!))) await stop()
}
const nameOf = (id: string) => props.board.meetings.find((m) => m.id === id)?.name ?? id
defineExpose({ search })
</script>

<template>
  <section v-if="state?.running || offer || problem" class="mt-6 border-l-4 border-verdigris bg-sheet p-4" data-offer>
    <p v-if="problem" role="alert" class="font-semibold">{{ problem.detail }}</p>
    <template v-if="state?.running">
      <p>{{ says('searching') }}</p>
      <div class="mt-2 flex items-center gap-4">
        <progress class="h-3 grow accent-verdigris" :value="state.done" max="1" :aria-label="says('searching')" />
        <button class="button-plain" @click="stop">{{ says('stop') }}</button>
      </div>
    </template>
    <template v-else-if="offer">
      <p v-if="state?.stale" class="mb-2 font-semibold">{{ says('stale') }}</p>
      <p class="text-xl font-semibold" data-offer-words>{{ offer.words }}</p>
      <ul v-if="offer.give.length" class="mt-2 list-disc pl-5" data-give>
        <li v-for="g in offer.give" :key="g">{{ g }}</li>
      </ul>
      <ol v-if="offer.moved.length" class="mt-2" data-moved>
        <li v-for="m in offer.moved" :key="m.meeting + m.what" class="border-b border-track py-1">
          <span class="sr-only">{{ nameOf(m.meeting) }}: </span><b class="mr-2 font-semibold">{{ m.what }}.</b
          ><span class="text-soft">{{ m.why }}</span>
        </li>
      </ol>
      <p class="mt-2">
        {{
          says('compared', {
            hours: Math.round(offer.price.hours),
            before: Math.round(offer.before.hours),
            nights: Math.round(offer.price.nights),
            unmet: offer.price.unmet + offer.price.empty,
            was: offer.before.unmet + offer.before.empty,
          })
        }}
      </p>
      <p v-if="offer.price.spent || offer.before.spent">
        {{ says('spent', { spent: Math.round(offer.price.spent), before: Math.round(offer.before.spent) }) }}
      </p>
      <p class="mt-1 text-[0.92rem] text-soft">{{ offer.limits }}</p>
      <div class="mt-3 flex flex-wrap gap-3">
        <button v-if="offer.moved.length" class="button-main" :disabled="state?.stale" data-take @click="taken">
          {{ says('take-plan') }}
        </button>
        <button class="button-plain" @click="stop">{{ says('leave-it') }}</button>
        <button v-if="state?.stale" class="button-plain" @click="search">{{ says('search-again') }}</button>
      </div>
    </template>
  </section>
</template>
