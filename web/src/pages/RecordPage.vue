<script setup lang="ts">
import { usePageTitle } from '@/composables/usePageTitle'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { recordQuery } from '@/api/queries'
import { longTime } from '@/composables/useFormat'
import { useKeys } from '@/composables/useKeys'
import { drop, tell } from '@/outbox/useOutbox'
import StrikeDialog from '@/components/StrikeDialog.vue'
import type { Schemas } from '@/api/client'
import { sayer } from '@/words/say'
import texts from '@/words/en/record.json'

const says = sayer(texts)

type Line = Schemas['RecordLine']

/** The record of an engine, or of the workshop: every entry, who made it and when. */
const props = defineProps<{ engine?: string }>()
const route = useRoute()
const query = useQuery(recordQuery(props.engine))
const test = computed(() => route.query.test as string | undefined)
const lines = computed(() => query.data.value?.lines.filter((l) => !test.value || l.test === test.value) ?? [])
const striking = ref<Line>()
const fault = ref('')

async function enter(kind: 'strike' | 'unstrike', line: Line, why?: string) {
  striking.value = undefined
  const { is, answer, entry } = await tell({
    kind,
    engine: props.engine,
    body: { entry: line.id, ...(why ? { why } : {}) },
  })
  fault.value = is === 'refused' ? (answer?.why ?? says('not-saved')) : is === 'waiting' ? says('waiting-sent') : ''
  if (is === 'refused') await drop(entry.id)
}
usePageTitle(() => [query.data.value?.name, says('history-2')])
useKeys([])
</script>

<template>
  <main class="mx-auto max-w-[1300px] px-4 py-5 sm:px-6">
    <h1 class="text-3xl font-semibold">
      <RouterLink v-if="engine" :to="`/engines/${engine}`">{{ query.data.value?.name || engine }}</RouterLink>
      <template v-else>{{ says('shop') }}</template><span class="font-normal text-soft"> {{ says('history') }}</span>
    </h1>
    <p class="text-soft">
      {{ says('everything-entered-latest-first-nothing') }}
      <RouterLink v-if="test" :to="`/engines/${engine}/record`" class="link">{{ says('whole-engines') }}</RouterLink>
    </p>
    <p v-if="fault" role="alert" class="mt-2 font-semibold">{{ fault }}</p>
    <p v-if="query.isError.value" role="alert" class="py-6">
      {{ says('cant-reach-braxel-history-comes') }}
    </p>
    <ol class="mt-4 border-t border-rule">
      <li
        v-for="l in lines"
        :key="l.id"
        class="grid items-center gap-x-5 border-b border-track py-1.5 sm:grid-cols-[11rem_minmax(0,10rem)_minmax(0,1fr)_auto]"
        data-line
      >
        <time class="figures text-[0.9rem] text-soft" :datetime="l.at">{{ longTime(l.at) }}</time>
        <span class="text-soft">{{ l.by }}</span>
        <span class="min-w-0 break-words">
          <s v-if="l.struck" class="text-soft">{{ l.words }}</s>
          <template v-else>{{ l.words }}</template>
          <span v-if="l.struck" class="ml-2">{{ says('struck', { struck: l.struck }) }}</span>
          <span v-if="l.apart" class="block font-semibold">{{ says('shown-only-here', { apart: l.apart }) }}</span>
          <span v-if="l.clock" class="block text-[0.9rem] text-soft">{{
            says('devices-clock-said', { clock: longTime(l.clock) })
          }}</span>
        </span>
        <button v-if="l.struck" class="link min-h-11" @click="enter('unstrike', l)">{{ says('restore') }}</button>
        <button v-else class="link min-h-11" @click="striking = l">
          {{ says('strike') }}<span class="sr-only"> {{ l.words }}</span>
        </button>
      </li>
    </ol>
    <StrikeDialog
      :what="striking?.words"
      @close="striking = undefined"
      @strike="(why) => enter('strike', striking!, why)"
    />
  </main>
</template>
