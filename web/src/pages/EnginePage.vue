<script setup lang="ts">
import { usePageTitle } from '@/composables/usePageTitle'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { practice } from '@/api/base'
import { engineQuery, engineSeasonQuery } from '@/api/queries'
import CauseList from '@/components/CauseList.vue'
import EnginePictures from '@/engine/EnginePictures.vue'
import IdentityLines from '@/engine/IdentityLines.vue'
import HowItCame from '@/components/HowItCame.vue'
import OtherFaults from '@/components/OtherFaults.vue'
import BorePlan from '@/components/BorePlan.vue'
import DiaryLines from '@/diary/DiaryLines.vue'
import EngineCare from '@/components/EngineCare.vue'
import type { Happened } from '@/components/HappenedForm.vue'
import KeyCap from '@/components/KeyCap.vue'
import RepairDialog from '@/components/RepairDialog.vue'
import Schools from '@/components/Schools.vue'
import StateMark from '@/components/StateMark.vue'
import { inConcern } from '@/components/state'
import Strips from '@/components/Strips.vue'
import Timeline from '@/components/Timeline.vue'
import { startTest } from '@/composables/startTest'
import { longDate, signed } from '@/composables/useFormat'
import { useKeys } from '@/composables/useKeys'
import { engineWith } from '@/outbox/draft'
import { outbox, waitingOf } from '@/outbox/useOutbox'
import { sayer, written } from '@/words/say'
import { worded } from '@/words/values'
import texts from '@/words/en/engine.json'

const says = sayer(texts)

const props = defineProps<{ engine: string }>()
const router = useRouter()
const client = useQueryClient()
const query = useQuery(engineQuery(props.engine))
// What is practised on has no season.
const season = useQuery({ ...engineSeasonQuery(props.engine), enabled: !practice })
const page = computed(() => query.data.value)
/** An engine that was entered here and that the server has not heard of yet. */
const entered = computed(() => engineWith(undefined, props.engine, outbox.waiting.value))
const current = ref<number>()

const read = computed(() => page.value?.tests.filter((t) => t.verdict.cylinders.length > 0 && !t.verdict.partial) ?? [])
const last = computed(() => read.value.at(-1))
const bores = computed(() =>
  (page.value?.bores ?? []).map((b) => ({
    ...b,
    leak: b.leak_pct,
    change: b.change_pct === undefined ? undefined : `${signed(b.change_pct)}%`,
  })),
)
/** The longest row of bores: each is as wide as a thumb at least, and the plan is pushed along where the screen is narrower. */
const inRow = computed(() =>
  Math.max(
    1,
    ...(page.value?.engine.layout.banks?.map((b) =>
      page.value!.engine.layout.radial ? Math.ceil(b.length / 2) : b.length,
    ) ?? []),
    page.value?.engine.layout.rotors ?? 0,
  ),
)
const picked = computed(() => bores.value.find((b) => b.cylinder === current.value))
const pick = (cylinder: number) => (current.value = current.value === cylinder ? undefined : cylinder)

function move(by: number) {
  const order = bores.value.map((b) => b.cylinder)
  const at = current.value === undefined ? -1 : order.indexOf(current.value)
  current.value = order[(at + by + order.length) % order.length]
}

/** The repair that is being written down, or put right; its form also opens by the address. */
const repairing = ref<{ was?: Happened } | undefined>(useRoute().query.repair === undefined ? undefined : {})
const waits = ref('')
const bad = computed(() => inConcern(page.value?.state))
/** The test after a repair beside the one before it. */
const beside = computed(() => {
  const from = page.value?.latest?.repaired?.from
  return from && last.value
    ? { path: '/compare', query: { of: [`${props.engine}:${from}`, `${props.engine}:${last.value.id}`] } }
    : undefined
})

usePageTitle(() => [page.value?.engine.name])
useKeys([
  { keys: ['t'], does: says('test-engine'), run: () => startTest(router, client, props.engine) },
  { keys: ['e'], does: says('figures-limits'), run: () => router.push(`/engines/${props.engine}/edit`) },
  { keys: ['w'], does: says('crank-wheel'), run: () => router.push(`/engines/${props.engine}/wheel`) },
  { keys: ['r'], does: says('record-repair'), run: () => (repairing.value = {}) },
  { keys: ['ArrowRight'], does: says('next-cylinder'), run: () => move(1) },
  { keys: ['ArrowLeft'], does: says('previous-cylinder'), run: () => move(-1) },
  { keys: ['Tab'], does: says('go-strips-arrow-keys-step') },
  { keys: ['Escape'], does: says('back-rack'), run: () => router.push('/') },
])
</script>

<template>
  <main v-if="page" class="mx-auto max-w-[1920px] px-4 py-5 sm:px-6">
    <header>
      <div class="flex flex-wrap items-center gap-x-6 gap-y-3">
        <p class="flex min-w-0 grow basis-96 flex-wrap items-center gap-x-3 gap-y-1">
          <span role="heading" aria-level="1" class="text-3xl font-semibold">{{ page.engine.name }}</span>
          <StateMark v-if="page.state" :state="page.state" />
          <span class="text-soft">
            {{ page.about }}<template v-if="page.engine.owner"> · {{ page.engine.owner }}</template>
            <template v-if="last">
              <template v-if="last.meter !== undefined">
                · <span class="figures text-ink">{{ written(last.meter) }}</span> {{ page.engine.meter_unit }}</template
              >
              {{ says('tested', { date: longDate(last.date) })
              }}<template v-if="last.conditions?.engine_temp">, {{ worded(last.conditions.engine_temp) }}</template>
            </template>
          </span>
        </p>
        <RouterLink :to="`/engines/${engine}/edit`" class="button-plain"
          >{{ says('figures') }} <KeyCap>e</KeyCap></RouterLink
        >
        <RouterLink v-if="page.engine.kind !== 'rotary'" :to="`/engines/${engine}/wheel`" class="button-plain"
          >{{ says('crank-wheel-2') }} <KeyCap>w</KeyCap></RouterLink
        >
        <button class="button-main max-sm:w-full" @click="startTest(router, client, props.engine)">
          {{ page.open ? says('continue-test') : says('start-test') }} <KeyCap>t</KeyCap>
        </button>
      </div>
      <p class="mt-2 text-[1.7rem] leading-tight font-semibold" data-headline>{{ page.headline }}</p>
      <p class="mt-1 max-w-[60rem] text-[1.2rem] leading-snug">{{ page.sentence }}</p>
      <p v-if="page.decision" class="mt-1">
        <b class="font-semibold" data-decision>{{ page.decision }}</b>
      </p>
      <p v-if="season.data.value?.words" class="mt-1" data-season>
        {{ season.data.value.words }} <RouterLink to="/season" class="link">{{ says('season') }}</RouterLink>
      </p>
      <p v-if="bad || beside || waits" class="flex flex-wrap items-center gap-x-6 print:hidden" data-repair>
        <button v-if="bad" class="link min-h-11" @click="repairing = {}">
          {{ says('record-repair') }} <KeyCap>r</KeyCap>
        </button>
        <RouterLink v-if="beside" :to="beside" class="link flex min-h-11 items-center">{{
          says('before-and-after')
        }}</RouterLink>
        <RouterLink
          v-if="beside"
          :to="`/engines/${engine}/papers?kind=before-after`"
          class="link flex min-h-11 items-center"
          >{{ says('paper-for-customer') }}</RouterLink
        >
        <span v-if="waits" role="status" class="text-soft">{{ waits }}</span>
      </p>
      <DiaryLines class="mt-1" :items="page.diary" :today="page.begin.date" />
      <p v-if="page.struck" role="alert" class="mt-2 border-l-4 border-act pl-3 font-semibold">
        {{ says('engine-was-struck', { struck: page.struck }) }}
        <RouterLink :to="`/engines/${engine}/record`" class="link">{{ says('history') }}</RouterLink>
      </p>
      <p v-for="c in page.clashes" :key="c" class="mt-2 border-l-4 border-watch pl-3" data-clash>{{ c }}.</p>
      <p v-if="page.unplaced" class="mt-2 border-l-4 border-watch pl-3" data-unplaced>
        {{
          says('shown-only', {
            n: page.unplaced,
          })
        }}
        <RouterLink :to="`/engines/${engine}/record`" class="link">{{ says('history-2') }}</RouterLink>.
      </p>
    </header>

    <div
      class="mt-5 grid gap-x-8 gap-y-6 lg:grid-cols-[minmax(0,9fr)_minmax(0,10fr)] lg:grid-rows-[auto_1fr] print:grid-cols-2"
    >
      <div :class="{ 'lg:row-span-2 lg:row-start-1': read.length < 2 }">
        <div class="overflow-x-auto">
          <BorePlan
            :layout="page.engine.layout"
            :bores="bores"
            :current="current"
            :gaskets="page.gaskets as [number, number][]"
            :style="{ maxWidth: `${inRow * 190}px`, minWidth: `${inRow * 48 + 40}px` }"
            @pick="pick"
          />
        </div>
        <p v-if="picked" class="mt-2" aria-live="polite">
          <b>{{ picked.cylinder }}</b><template v-if="picked.name"> ({{ picked.name }})</template>, {{ picked.place }}.
          {{ picked.why.join('. ') || says('nothing-has-changed-beyond-what') }}
        </p>
        <p v-else-if="last" class="mt-2 text-soft">
          {{ says('as-read-below-change-since', { unit: page.unit }) }}
        </p>
        <CauseList
          v-if="page.causes.length"
          class="mt-5"
          :causes="page.causes"
          :next="page.next"
          @next="startTest(router, client, props.engine, page.next?.step)"
        />
        <p v-for="c in page.caveats" :key="c" class="mt-3 border-l-4 border-rule pl-3" data-caveat>{{ c }}</p>
        <OtherFaults :faults="page.latest?.faults ?? []" />
        <HowItCame v-if="page.latest" :verdict="page.latest" />
      </div>
      <Strips
        v-if="read.length > 1"
        class="lg:col-start-2 lg:row-span-2 lg:row-start-1"
        :page="page"
        :current="current"
        @pick="pick"
      />
      <p v-else class="max-w-md text-lg text-soft lg:col-start-2 lg:row-start-1">
        {{
          read.length
            ? says('one-test-so-far-baseline')
            : page.open
              ? says('test-under-way-becomes')
              : says('start-test-first-one-becomes')
        }}
      </p>
      <Schools
        v-if="page.evenness.length && read.length"
        :class="read.length > 1 ? 'lg:col-start-1' : 'self-start lg:col-start-2 lg:row-start-2'"
        :judgements="page.evenness"
        :beside="page.beside"
      />
    </div>

    <IdentityLines class="mt-8" :engine="page.engine">
      <EnginePictures class="mt-3" :engine="engine" :notes="page.notes ?? []" />
    </IdentityLines>
    <section v-if="page.engine.note" class="mt-8">
      <h2 class="border-b border-rule pb-1 font-semibold">{{ says('worth-knowing') }}</h2>
      <p class="mt-2 whitespace-pre-line">{{ page.engine.note }}</p>
    </section>

    <section v-if="page.checked || page.found.length" class="mt-8">
      <p v-if="page.checked" data-checked>
        <RouterLink
          :to="`/engines/${engine}/tests/${encodeURIComponent(page.checked.session)}/inspection`"
          class="link inline-flex min-h-11 items-center"
          >{{ says('inspected', { date: longDate(page.checked.date) }) }}</RouterLink>: {{ page.checked.heading }}
      </p>
      <table v-if="page.found.length" class="mt-2 border-collapse text-left" data-found>
        <caption class="pb-1 text-left font-semibold">
          {{
            says('verdict-what-was-found-when')
          }}
        </caption>
        <thead class="text-[0.9rem] text-soft">
          <tr>
            <th class="pr-6 font-normal" scope="col">{{ says('when') }}</th>
            <th class="pr-6 font-normal" scope="col">{{ says('braxel-said') }}</th>
            <th class="pr-6 font-normal" scope="col">{{ says('found') }}</th>
            <th class="font-normal" scope="col">{{ says('right') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="f in page.found" :key="f.date + f.found" class="border-t border-track">
            <td class="py-1 pr-6">{{ longDate(f.date) }}</td>
            <td class="pr-6">{{ f.said }}</td>
            <td class="pr-6">
              {{ f.found }}<template v-if="f.note">: {{ f.note }}</template>
            </td>
            <td class="font-semibold">{{ f.right ? says('right') : says('wrong') }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <Timeline class="mt-10" :page="page" @repair="(was) => (repairing = { was })" />
    <p class="mt-4 print:hidden">
      <button class="link mr-6 min-h-11" data-inspect @click="startTest(router, client, props.engine, 'inspection')">
        {{ says('inspect-as-buyer') }}
      </button>
      <button class="link mr-6 min-h-11" @click="startTest(router, client, props.engine, 'before-opening')">
        {{ says('after-failure-look-before-opening') }}
      </button>
      <RouterLink :to="`/engines/${engine}/old-tests`" class="link mr-6 inline-flex min-h-11 items-center">{{
        says('type-old-tests')
      }}</RouterLink>
      <RouterLink :to="`/seat/${engine}`" class="link mr-6 inline-flex min-h-11 items-center">{{
        says('helpers-screen')
      }}</RouterLink>
      <RouterLink :to="`/engines/${engine}/papers`" class="link mr-6 inline-flex min-h-11 items-center">{{
        says('papers-certificate-wall-sheet-tag')
      }}</RouterLink>
    </p>
    <EngineCare :page="page" />
    <RepairDialog
      :key="repairing?.was?.entry"
      :open="!!repairing"
      :engine="engine"
      :kind="page.engine.kind"
      :cylinders="page.bores"
      :unit="page.engine.meter_unit ?? 'h'"
      :today="page.begin.date"
      :after="page.latest?.id"
      :concern="page.bores.filter((b) => inConcern(b.state)).map((b) => b.cylinder)"
      :cause="page.causes[0]?.cause"
      :was="repairing?.was"
      @close="repairing = undefined"
      @kept="(words) => (waits = words)"
    />
  </main>
  <main v-else-if="entered" class="mx-auto max-w-[1100px] px-4 py-5 sm:px-6" data-entered>
    <h1 class="text-3xl font-semibold">{{ entered.name }}</h1>
    <p class="mt-2 text-lg">
      {{
        says('added-here-with-waiting-sent', {
          n: waitingOf(engine).length,
        })
      }}
    </p>
    <button class="button-main mt-4 min-h-14 text-xl" @click="startTest(router, client, props.engine)">
      {{ says('start-test') }} <KeyCap>t</KeyCap>
    </button>
  </main>
  <main v-else-if="query.isError.value" class="p-6" role="alert">
    {{ query.error.value?.message }}. <RouterLink to="/" class="link">{{ says('back-rack-2') }}</RouterLink>
  </main>
</template>
