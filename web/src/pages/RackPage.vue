<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, useTemplateRef } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { rackQuery } from '@/api/queries'
import BorePlan from '@/components/BorePlan.vue'
import DueLine from '@/components/DueLine.vue'
import KeyCap from '@/components/KeyCap.vue'
import StateMark from '@/components/StateMark.vue'
import { startTest } from '@/composables/startTest'
import { longDate } from '@/composables/useFormat'
import { useKeys } from '@/composables/useKeys'
import { outbox } from '@/outbox/useOutbox'

const router = useRouter()
const rack = useQuery(rackQuery)
const client = useQueryClient()

/** Engines that were entered here and that the server has not heard of yet. */
const entered = computed(() => {
  const known = new Set([...(rack.data.value?.engines ?? []), ...(rack.data.value?.away ?? [])].map((e) => e.id))
  const begun = outbox.waiting.value.filter((w) => w.entry.kind === 'engine' && !known.has(w.entry.engine ?? ''))
  return [...new Map(begun.map((w) => [w.entry.engine!, (w.entry.body as { name?: string }).name ?? '']))]
})
const find = ref('')
const at = ref(-1)
const field = useTemplateRef<HTMLInputElement>('field')

const shown = computed(() => {
  const words = find.value.toLowerCase().trim()
  const all = rack.data.value?.engines ?? []
  return words
    ? all.filter((e) => `${e.name} ${e.owner ?? ''} ${e.about} ${e.state}`.toLowerCase().includes(words))
    : all
})

function move(by: number) {
  at.value = Math.max(0, Math.min(shown.value.length - 1, at.value + by))
  document.getElementById(`engine-${at.value}`)?.focus()
}
const chosen = () => shown.value[Math.max(at.value, 0)]

useKeys([
  { keys: ['/'], does: 'find an engine', run: () => field.value?.focus() },
  { keys: ['ArrowDown'], does: 'next engine', run: () => move(1), inText: true },
  { keys: ['ArrowUp'], does: 'engine before', run: () => move(-1), inText: true },
  { keys: ['Enter'], does: 'open the engine' },
  { keys: ['t'], does: 'test the engine', run: () => chosen() && startTest(router, client, chosen()!.id) },
  { keys: ['n'], does: 'new engine', run: () => router.push('/new-engine') },
])
</script>

<template>
  <main class="mx-auto max-w-[1400px] px-4 py-5 sm:px-6">
    <div class="mb-4 flex flex-wrap items-center gap-3">
      <h1 class="sr-only">Rack</h1>
      <label
        class="flex min-h-11 grow items-center gap-3 border-b border-rule focus-within:border-verdigris sm:max-w-sm"
      >
        <span class="sr-only">Find an engine</span>
        <input
          ref="field"
          v-model="find"
          type="search"
          placeholder="Find an engine"
          class="grow bg-transparent py-2 outline-none placeholder:text-soft"
          @input="at = -1"
          @keydown.enter="chosen() && router.push(`/engines/${chosen()!.id}`)"
        />
        <KeyCap class="max-sm:hidden">/</KeyCap>
      </label>
      <RouterLink to="/new-engine" class="button-main ml-auto"
        >New engine <KeyCap class="max-sm:hidden">n</KeyCap></RouterLink
      >
    </div>

    <p v-if="rack.isError.value" role="alert" class="py-8">
      Braxel cannot be reached. It will be asked again in a moment.
    </p>
    <p v-else-if="rack.data.value && rack.data.value.engines.length + entered.length === 0" class="py-10 text-xl">
      No engine yet. <RouterLink to="/new-engine" class="link">Enter the first one</RouterLink>, crank it, and its first
      test becomes the baseline.
    </p>
    <p v-else-if="rack.data.value && shown.length === 0" class="py-8">No engine of that name.</p>

    <p v-if="rack.data.value?.pending" role="status" class="mb-4 text-lg" data-pending>
      {{ rack.data.value.pending }} {{ rack.data.value.pending === 1 ? 'engine is' : 'engines are' }} being judged. What
      stands beside them was said before: do not go by it.
    </p>
    <ol v-if="entered.length" class="border-t border-rule">
      <li v-for="[id, name] in entered" :key="id" data-entered>
        <RouterLink :to="`/engines/${id}`" class="flex min-h-14 items-center gap-4 hover:bg-sheet">
          <span class="text-2xl font-semibold">{{ name }}</span>
          <span class="text-soft">entered here, waiting to be sent</span>
        </RouterLink>
      </li>
    </ol>
    <ol class="border-t border-rule">
      <li v-for="(e, i) in shown" :key="e.id" class="border-b border-rule">
        <RouterLink
          :id="`engine-${i}`"
          :to="`/engines/${e.id}`"
          class="grid grid-cols-[5.5rem_1fr] items-center gap-x-5 gap-y-1 py-3 hover:bg-sheet sm:grid-cols-[9rem_1fr_auto]"
          @focus="at = i"
        >
          <div class="flex h-16 items-center justify-center overflow-hidden max-sm:row-span-2">
            <BorePlan v-if="e.layout.banks?.length" mini :layout="e.layout" :bores="e.bores" class="max-h-16" />
          </div>
          <div class="min-w-0">
            <p class="flex flex-wrap items-center gap-x-3 gap-y-1">
              <span class="text-2xl font-semibold">{{ e.name }}</span>
              <span v-if="e.pending" class="text-soft">being judged</span>
              <StateMark v-else-if="e.tests" :state="e.state" />
              <span class="text-soft"
                >{{ e.about }}<template v-if="e.owner"> · {{ e.owner }}</template></span
              >
            </p>
            <p class="text-lg" :class="{ 'text-soft': e.pending }">{{ e.sentence }}</p>
          </div>
          <p class="text-soft sm:text-right">
            <template v-if="e.last_test">
              {{ longDate(e.last_test) }}
              <span v-if="e.meter !== undefined" class="sm:block"
                >at <span class="figures">{{ e.meter }}</span> {{ e.meter_unit }}</span
              >
              <DueLine v-if="e.due" short class="sm:block" :due="e.due" :unit="e.meter_unit" />
            </template>
          </p>
        </RouterLink>
      </li>
    </ol>
    <details v-if="rack.data.value?.away.length" class="mt-6">
      <summary class="min-h-11 content-center text-soft">{{ rack.data.value.away.length }} put away or struck</summary>
      <ul>
        <li v-for="e in rack.data.value.away" :key="e.id">
          <RouterLink :to="`/engines/${e.id}`" class="link flex min-h-11 items-center">{{ e.name }}</RouterLink>
        </li>
      </ul>
    </details>
    <p class="mt-6 flex gap-x-6 print:hidden">
      <RouterLink to="/seat" class="link flex min-h-11 items-center">The helper’s screen</RouterLink>
      <RouterLink to="/devices" class="link flex min-h-11 items-center">Devices</RouterLink>
    </p>
  </main>
</template>
