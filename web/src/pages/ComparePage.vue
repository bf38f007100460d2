<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { type Schemas } from '@/api/client'
import { compareQuery, engineQuery, rackQuery } from '@/api/queries'
import BorePlan from '@/components/BorePlan.vue'
import ChangeBar from '@/compare/ChangeBar.vue'
import RankTable from '@/compare/RankTable.vue'
import StateMark from '@/components/StateMark.vue'
import { useKeys } from '@/composables/useKeys'
import { longDate } from '@/composables/useFormat'
import { usePageTitle } from '@/composables/usePageTitle'
import { rounded, sayer, written } from '@/words/say'
import { worded } from '@/words/values'
import texts from '@/words/en/compare.json'

const says = sayer(texts)

type Column = Schemas['CompareColumn']
const route = useRoute()
const router = useRouter()
/** What is laid side by side stands in the address, so that it can be kept and sent. */
const picks = computed(() => [route.query.of ?? []].flat().flatMap((t) => t || []))
const page = useQuery(computed(() => compareQuery(picks.value)))
const rack = useQuery(rackQuery)

const result = computed(() => (picks.value.length ? page.data.value?.result : undefined))
const columns = computed(() => (picks.value.length ? (page.data.value?.columns ?? []) : []))
const reach = computed(() =>
  Math.max(
    6,
    ...(result.value?.cylinders ?? []).flatMap((c) =>
      [c.compression, c.leak].flatMap((m) => (m ? [Math.abs(m.low), Math.abs(m.high)] : [])),
    ),
  ),
)
const scale = computed(() => scaleLinear().domain([-reach.value, reach.value]).range([4, 216]))
const first = computed(() => columns.value[0])
const last = computed(() => columns.value.at(-1))
const bore = (c: Column | undefined, cylinder: number) => c?.bores.find((b) => b.cylinder === cylinder)
const same = computed(() => result.value !== undefined && columns.value.length === 2)
const shown = (c: Column) => c.bores.map((b) => ({ ...b, leak: b.leak_pct, change: undefined, state: b.state }))
/** The longest row of bores of a column: how wide its plan is drawn. */
const inRow = (c: Column) =>
  Math.max(
    1,
    ...(c.layout.banks ?? []).map((b) => (c.layout.radial ? Math.ceil(b.length / 2) : b.length)),
    c.layout.rotors ?? 0,
  )
const answers = { better: says('yes'), worse: says('worse'), same: says('no-change'), untold: says('cant-tell') }

// What to add: an engine, and of it one of its tests, a build, or the last.
const engine = ref('')
const chosen = useQuery(computed(() => ({ ...engineQuery(engine.value), enabled: engine.value !== '' })))
const test = ref('')
const go = (all: string[]) => router.push({ path: '/compare', query: all.length ? { of: all } : {} })
function add() {
  if (!engine.value) return
  void go([...picks.value, test.value ? `${engine.value}${test.value}` : engine.value])
  test.value = ''
}
const offers = computed(() => (engine.value ? (chosen.data.value?.offers ?? []) : []))
/** Used engines that wait on a stand are compared with each other. */
const used = computed(() => (rack.data.value?.engines ?? []).filter((e) => e.place === 'stand' && e.tests).slice(0, 8))
/** What the engines on the rack suggest, while nothing is picked. */
const suggested = computed(() => (rack.data.value?.engines ?? []).filter((e) => e.offers.length))
usePageTitle(() => [page.data.value?.title ?? says('compare-2')])
useKeys([{ keys: ['Escape'], does: says('back'), run: () => router.back() }])
</script>

<template>
  <main class="mx-auto max-w-[1400px] px-4 py-5 sm:px-6">
    <template v-if="picks.length && page.data.value">
      <h1 class="text-3xl font-semibold">{{ page.data.value.title }}</h1>
      <p class="mt-2 max-w-[62rem] text-[1.5rem] leading-snug font-medium" data-sentence>
        {{ page.data.value.sentence }}
      </p>
      <template v-if="result">
        <p v-if="result.advice" class="mt-1 text-lg font-semibold" data-advice>{{ result.advice }}</p>
        <p v-for="n in result.notes" :key="n" class="mt-0.5 max-w-[62rem] text-soft">{{ n }}</p>
      </template>
    </template>
    <template v-else-if="picks.length && page.isError.value">
      <h1 class="text-3xl font-semibold">{{ says('compare') }}</h1>
      <p role="alert" class="mt-2 text-lg">{{ page.error.value?.message }}.</p>
    </template>
    <template v-else-if="picks.length === 0">
      <h1 class="text-3xl font-semibold">{{ says('compare') }}</h1>
      <p class="mt-1 max-w-4xl text-lg">
        {{ says('did-repair-help-what-did') }}
      </p>
    </template>

    <div v-if="columns.length" class="mt-6 flex flex-wrap gap-x-10 gap-y-6">
      <section
        v-for="c in columns"
        :key="c.pick"
        class="min-w-0 grow basis-72"
        :style="{ maxWidth: `${Math.max(2.4, inRow(c)) * 8.2}rem` }"
        data-column
      >
        <h2 class="font-semibold">
          <RouterLink :to="`/engines/${c.engine}`" class="hover:underline">{{ c.name }}</RouterLink><template
            v-if="c.date"
          >
            · {{ longDate(c.date) }}</template
          ><span v-if="c.meter !== undefined" class="figures font-normal">
            · {{ written(c.meter) }} {{ c.meter_unit }}</span
          >
        </h2>
        <p class="flex flex-wrap items-center gap-x-3 text-soft">
          <StateMark v-if="c.test" :state="c.state" />
          <span>{{ [c.stage, c.temp, c.build].filter(Boolean).join(' · ') || says('not-tested-yet') }}</span>
          <button class="link min-h-11 print:hidden" @click="go(picks.filter((p) => p !== c.pick))">
            {{ says('remove') }}<span class="sr-only"> {{ c.name }} {{ c.date }}</span>
          </button>
        </p>
        <div class="overflow-x-auto">
          <BorePlan
            :layout="c.layout"
            :bores="shown(c)"
            still
            :style="{ minWidth: `${inRow(c) * 60 + 40}px`, maxWidth: `${inRow(c) * 150}px` }"
          />
        </div>
      </section>
    </div>

    <div
      v-if="result && first && last"
      class="relative mt-6 overflow-x-auto"
      tabindex="0"
      role="group"
      :aria-label="says('each-cylinder')"
    >
      <table class="w-full sm:min-w-[44rem]">
        <thead>
          <tr class="border-b border-rule text-left text-soft">
            <th class="py-1 font-normal">{{ says('cylinder') }}</th>
            <th class="px-3 font-normal max-sm:hidden">
              {{ says('leak', { first: same ? says('before') : says('first'), unit: first.unit }) }}
            </th>
            <th class="px-3 font-normal max-sm:hidden">
              {{ says('leak-2', { last: same ? says('after') : says('last'), unit: last.unit }) }}
            </th>
            <th class="px-3 font-semibold text-ink">
              {{ says('compression') }} <span class="max-sm:hidden">{{ says('with-doubt') }}</span>
            </th>
            <th class="px-3 font-semibold text-ink">
              {{ says('leak-3') }} <span class="max-sm:hidden">{{ says('with-doubt') }}</span>
            </th>
            <th class="px-3 text-right font-normal">{{ result.purpose === 'gauges' ? '' : says('changed') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="c in result.cylinders"
            :key="c.cylinder"
            class="border-b border-track"
            :class="{ 'bg-sheet': c.move === 'better' || c.move === 'worse' }"
            :data-move="c.move"
          >
            <th class="py-2 text-left text-xl font-semibold">{{ c.called }}</th>
            <td class="figures px-3 whitespace-nowrap max-sm:hidden">
              {{ bore(first, c.cylinder)?.reading ?? '–' }} ·
              {{ rounded(bore(first, c.cylinder)?.leak_pct, 0) ?? '–' }} %
            </td>
            <td class="figures px-3 whitespace-nowrap max-sm:hidden">
              {{ bore(last, c.cylinder)?.reading ?? '–' }} · {{ rounded(bore(last, c.cylinder)?.leak_pct, 0) ?? '–' }} %
            </td>
            <td class="px-3">
              <ChangeBar v-if="c.compression" :moved="c.compression" :scale="scale" unit="%" />
            </td>
            <td class="px-3">
              <ChangeBar v-if="c.leak" :moved="c.leak" :scale="scale" unit="pts" />
            </td>
            <td
              class="px-3 text-right"
              :class="c.move === 'better' || c.move === 'worse' ? 'font-semibold' : 'text-soft'"
            >
              {{ result.purpose === 'gauges' ? '' : c.move === 'better' ? says('better') : answers[c.move] }}
            </td>
          </tr>
          <tr v-if="result.together">
            <th class="py-2 text-left font-normal text-soft">{{ says('all-together') }}</th>
            <td colspan="2" class="max-sm:hidden"></td>
            <td class="px-3">
              <ChangeBar :moved="result.together" :scale="scale" unit="%" />
            </td>
            <td colspan="2" class="max-sm:hidden"></td>
          </tr>
        </tbody>
      </table>
      <p class="mt-1 text-[0.9rem] text-soft">
        {{ says('dot-change-found-line-where') }}
      </p>
    </div>
    <RankTable v-if="page.data.value?.rank.length && picks.length" class="mt-6" :rank="page.data.value.rank" />

    <section
      v-if="picks.length === 0 && (suggested.length || used.length > 1)"
      class="mt-6"
      :aria-label="says('worth-comparing')"
    >
      <h2 class="border-b border-rule pb-1 font-semibold">{{ says('worth-comparing') }}</h2>
      <ul data-suggested>
        <li v-if="used.length > 1" class="border-b border-track py-1">
          <button class="link min-h-11 text-left text-lg" @click="go(used.map((e) => e.id))">
            {{ says('used-on-stand', { names: used.map((e) => e.name).join(', ') }) }}
          </button>
        </li>
        <li
          v-for="e in suggested"
          :key="e.id"
          class="grid items-center gap-x-6 border-b border-track py-1 sm:grid-cols-[9rem_1fr]"
        >
          <b class="text-xl font-semibold">{{ e.name }}</b>
          <span class="flex flex-wrap gap-x-8">
            <button v-for="o in e.offers" :key="o.title" class="link min-h-11 text-left text-lg" @click="go(o.of)">
              {{ o.title }}
            </button>
          </span>
        </li>
      </ul>
    </section>

    <section class="mt-10 print:hidden" :aria-label="picks.length ? says('add-another') : says('your-own-choice')">
      <h2 class="border-b border-rule pb-1 font-semibold">
        {{ picks.length ? says('add-another') : says('your-own-choice') }}
      </h2>
      <form class="mt-2 flex flex-wrap items-end gap-3" @submit.prevent="add">
        <label class="grow sm:max-w-xs">
          <span class="block text-[0.95rem] text-soft">{{ says('engine') }}</span>
          <select v-model="engine" class="field" @change="test = ''">
            <option value=""></option>
            <option v-for="e in rack.data.value?.engines" :key="e.id" :value="e.id">{{ e.name }}</option>
          </select>
        </label>
        <label class="grow sm:max-w-sm">
          <span class="block text-[0.95rem] text-soft">{{ says('which-test') }}</span>
          <select v-model="test" class="field" :disabled="!chosen.data.value">
            <option value="">{{ says('latest') }}</option>
            <option v-for="t in [...(chosen.data.value?.tests ?? [])].reverse()" :key="t.id" :value="`:${t.id}`">
              {{ longDate(t.date) }}{{ t.stage ? `, ${worded(t.stage)}` : '' }}
            </option>
            <option v-for="b in chosen.data.value?.builds" :key="b.id" :value="`@${b.id}`">
              {{ says('build', { id: b.what || b.id }) }}
            </option>
          </select>
        </label>
        <button class="button-main" :disabled="!engine || picks.length >= 8">{{ says('add') }}</button>
      </form>
      <p v-if="picks.length >= 8" class="mt-1 text-soft">{{ says('eight-most-fits-side-side') }}</p>
      <ul v-if="offers.length" class="mt-3" data-offers>
        <li v-for="o in offers" :key="o.title">
          <button class="link min-h-11" @click="go(o.of)">{{ o.title }}</button>
        </li>
      </ul>
    </section>
  </main>
</template>
