<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { engineQuery, rackQuery } from '@/api/queries'
import LabelledField from '@/components/LabelledField.vue'
import { useHandIn } from '@/composables/useHandIn'
import { today } from '@/api/clock'
import { useKeys } from '@/composables/useKeys'
import { drop, tell } from '@/outbox/useOutbox'
import AirDrawing from '@/sums/AirDrawing.vue'
import BarsDrawing from '@/sums/BarsDrawing.vue'
import CylinderDrawing from '@/sums/CylinderDrawing.vue'
import LeakDrawing from '@/sums/LeakDrawing.vue'
import { tools } from '@/sums/tools'
import { choices, choose, shown, unitOf, type Choosable } from '@/sums/units'
import { choice } from '@/composables/shown'
import { refusalOf, useSum, written } from '@/sums/useSum'
import { sayer } from '@/words/say'
import texts from '@/words/en/sums.json'

const says = sayer(texts)

const route = useRoute()
const router = useRouter()
/** On a phone the sums are picked from a list. */
const go = (event: Event) => router.push(`/sums/${(event.target as HTMLSelectElement).value}`)
const tool = computed(() => tools.find((t) => t.sum === route.params.sum) ?? tools[0]!)
const typed = ref<Record<string, string>>({})
const engine = ref('')
const noted = ref('')

const rack = useQuery(rackQuery)
const page = useQuery(computed(() => ({ ...engineQuery(engine.value), enabled: engine.value !== '' })))

// Figures of the sum's own units stand behind what is typed, so that a change of unit rewrites the fields.
const start = () =>
  (typed.value = Object.fromEntries(tool.value.fields.map((f) => [f.key, written(f.start, f.quantity)])))
watch(tool, start, { immediate: true })
const { answer, problem, figures } = useSum(tool, typed)

/** What was typed last, with its unit: turned to another unit and back, it stands as it was typed. */
const asTyped: Record<string, { text: string; unit: string; shows: string }> = {}
const unitsNow = () => Object.fromEntries(tools.flatMap((t) => t.fields.map((f) => [f.quantity, unitOf(f.quantity)])))
let unitsBefore = unitsNow()
watch(
  choice,
  () => {
    for (const f of tool.value.fields) {
      const now = typed.value[f.key] ?? ''
      const unit = unitsBefore[f.quantity] ?? ''
      if (unit === unitOf(f.quantity)) continue
      const key = `${tool.value.sum} ${f.key}`
      if (asTyped[key]?.shows !== now) asTyped[key] = { text: now, unit, shows: now }
      const source = asTyped[key]!
      source.shows =
        source.unit === unitOf(f.quantity) ? source.text : written(figures.value[f.key] ?? f.start, f.quantity)
      typed.value[f.key] = source.shows
    }
    unitsBefore = unitsNow()
  },
  { deep: true },
)
watch([() => page.data.value, tool], () => {
  const e = page.data.value?.engine
  for (const f of e ? tool.value.fields : []) {
    const figure = f.from?.(e!)
    if (figure !== undefined) typed.value[f.key] = written(figure, f.quantity)
  }
})

const results = computed(() =>
  tool.value.results.flatMap((r) => {
    const v = answer.value?.[r.key]
    return v === undefined
      ? []
      : [{ ...r, text: (Array.isArray(v) ? v : [v]).map((x) => shown(x, r.quantity)).join(' · ') }]
  }),
)
const headline = computed(() => (tool.value.band ? 1 : 0))
const groups = computed(
  () =>
    (tool.value.sum === 'evenness'
      ? (figures.value.readings_kpa as number[] | undefined)?.map((v) => [v])
      : (figures.value.groups_kpa as number[][] | undefined)) ?? [],
)
const faces = computed(() => (answer.value?.faces_kpa as number[] | undefined)?.map((v) => [v]) ?? [])

const { handIn: keep } = useHandIn(async (id, done) => {
  const from = tool.value.fields
    .filter((f) => typed.value[f.key]?.trim())
    .map((f) => `${f.words} ${typed.value[f.key]!.trim()} ${unitOf(f.quantity)}`.trim())
    .join(', ')
  const words = results.value.map((r) => `${r.words} ${r.text} ${unitOf(r.quantity)}`.trim()).join(', ')
  const { is, answer, entry } = await tell({
    id,
    kind: 'note',
    engine: engine.value,
    body: { date: today(), text: `${tool.value.title}: ${words} (from ${from})` },
  })
  if (is === 'refused') await drop(entry.id)
  else done()
  noted.value =
    is === 'refused'
      ? (answer?.why ?? says('not-saved'))
      : is === 'waiting'
        ? says('waiting-sent')
        : says('saved-s-notes', { name: page.data.value?.engine.name })
})
watch([tool, engine], () => (noted.value = ''))
useKeys([{ keys: ['Tab'], does: says('next-figure') }])
</script>

<template>
  <main class="mx-auto grid max-w-[1500px] gap-x-8 gap-y-4 px-4 py-5 sm:px-6 lg:grid-cols-[12rem_minmax(0,1fr)]">
    <h1 class="sr-only">{{ says('sums') }}</h1>
    <nav :aria-label="says('sums')" class="flex flex-col content-start max-lg:hidden">
      <RouterLink
        v-for="t in tools"
        :key="t.sum"
        :to="`/sums/${t.sum}`"
        class="flex min-h-11 items-center px-2"
        :class="t === tool ? 'bg-verdigris-pale font-semibold' : 'text-soft'"
        :aria-current="t === tool ? 'page' : undefined"
        >{{ t.title }}</RouterLink
      >
    </nav>
    <LabelledField :label="says('which')" class="lg:hidden">
      <select class="field" :value="tool.sum" @change="go">
        <option v-for="t in tools" :key="t.sum" :value="t.sum">{{ t.title }}</option>
      </select>
    </LabelledField>
    <div>
      <div class="flex flex-wrap items-end gap-x-5 gap-y-2 border-b border-rule pb-3">
        <div class="mr-auto">
          <h2 class="text-3xl font-semibold">{{ tool.title }}</h2>
          <p class="text-soft" data-purpose>{{ tool.purpose }}</p>
        </div>
        <LabelledField :label="says('engine')">
          <select v-model="engine" class="field w-auto">
            <option value="">{{ says('none') }}</option>
            <option v-for="e in rack.data.value?.engines" :key="e.id" :value="e.id">{{ e.name }}</option>
          </select>
        </LabelledField>
        <LabelledField v-for="(units, quantity) in choices" :key="quantity" :label="says(`unit-${quantity}`)">
          <select
            class="field w-auto"
            :value="unitOf(quantity)"
            @change="choose(quantity as Choosable, ($event.target as HTMLSelectElement).value)"
          >
            <option v-for="u in units" :key="u">{{ u }}</option>
          </select>
        </LabelledField>
      </div>
      <div class="mt-4 grid gap-8 md:grid-cols-[minmax(0,5fr)_minmax(0,6fr)]">
        <form class="grid content-start gap-3 sm:grid-cols-2" novalidate @submit.prevent>
          <LabelledField
            v-for="f in tool.fields"
            :key="tool.sum + f.key"
            :label="`${f.words}${unitOf(f.quantity) ? `, ${unitOf(f.quantity)}` : ''}`"
            :fault="refusalOf(problem, f.key, f.quantity)"
            :class="{ 'sm:col-span-2': Array.isArray(f.start) }"
          >
            <textarea
              v-if="Array.isArray(f.start) && Array.isArray(f.start[0])"
              v-model="typed[f.key]"
              class="field figures text-xl"
              rows="4"
            />
            <input
              v-else
              v-model="typed[f.key]"
              class="field figures text-2xl"
              inputmode="decimal"
              autocomplete="off"
            />
          </LabelledField>
          <p v-if="tool.says" class="text-lg sm:col-span-2">{{ tool.says }}</p>
          <p v-if="tool.caution" class="border-l-4 border-watch pl-3 sm:col-span-2">{{ tool.caution }}</p>
          <p v-if="engine" class="flex items-center gap-4 sm:col-span-2">
            <button type="button" class="button-plain" :disabled="!answer || !!problem" @click="keep">
              {{ says('save-notes') }}
            </button>
            <span role="status">{{ noted }}</span>
          </p>
        </form>
        <div>
          <dl class="grid gap-y-2" :class="{ 'opacity-45': problem }" aria-live="polite" data-answer>
            <div
              v-for="(r, i) in results"
              :key="r.key"
              class="flex flex-wrap items-baseline gap-x-3"
              :class="{ 'flex-col': i === headline }"
            >
              <dt class="text-lg text-soft">{{ r.words }}</dt>
              <dd>
                <span
                  class="figures font-semibold"
                  :class="i === headline ? 'text-[3.4rem] leading-none' : 'text-2xl'"
                  >{{ r.text }}</span
                >
                <span class="figures ml-2" :class="{ 'text-2xl': i === headline }">{{ unitOf(r.quantity) }}</span>
              </dd>
            </div>
          </dl>
          <p v-if="problem" class="mt-1 text-soft">{{ says('last-good-answer-until-marked') }}</p>
          <div v-if="answer" class="mt-4" :class="{ 'opacity-45': problem }">
            <LeakDrawing v-if="tool.sum === 'leak' || tool.sum === 'two-testers'" :figures="figures" :answer="answer" />
            <AirDrawing
              v-else-if="tool.sum === 'ambient' || tool.sum === 'sea-level'"
              :ambient="Number(answer.ambient_kpa ?? figures.ambient_kpa)"
            />
            <BarsDrawing v-else-if="groups.length || faces.length" :groups="faces.length ? faces : groups" />
            <CylinderDrawing v-else :sum="tool.sum" :figures="figures" />
          </div>
        </div>
      </div>
    </div>
  </main>
</template>
