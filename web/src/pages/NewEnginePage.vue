<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, faultOf, Refused, type Problem, type Schemas } from '@/api/client'
import { layoutsQuery } from '@/api/queries'
import BorePlan from '@/components/BorePlan.vue'
import LabelledField from '@/components/LabelledField.vue'
import { useKeys } from '@/composables/useKeys'

type Engine = Schemas['Engine']

const router = useRouter()
const client = useQueryClient()
const layouts = useQuery(layoutsQuery)

const group = ref('inline')
const preset = ref<Schemas['Preset']>()
const banks = ref<string[]>(['1 2 3 4'])
const order = ref('1 3 4 2')
const intervals = ref<number[]>()
const angle = ref(0)
const engine = reactive<Engine>({
  name: '',
  kind: 'four-stroke',
  layout: {},
  rotation: 'clockwise',
  fuel: 'petrol',
  induction: 'natural',
  duty: 'street',
  meter_unit: 'h',
})
const problem = ref<Problem>()
const unreachable = ref(false)

const groups = ['inline', 'vee', 'flat', 'single']
const inGroup = computed(() => layouts.data.value?.filter((p) => p.group === group.value) ?? [])
/** The numbers of cylinders to choose from; where numbering differs by maker, it is chosen below. */
const sizes = computed(() => Map.groupBy(inGroup.value, (p) => p.name.split(',')[0]!))
const numberings = computed(() => sizes.value.get(preset.value?.name.split(',')[0] ?? '') ?? [])
const numbers = (text: string) =>
  text
    .split(/[^0-9]+/)
    .filter(Boolean)
    .map(Number)
const layout = computed(() => ({
  banks: banks.value.map(numbers).filter((b) => b.length),
  ...(angle.value ? { bank_angle_deg: angle.value } : {}),
}))

function choose(p: Schemas['Preset']) {
  preset.value = p
  banks.value = p.layout.banks!.map((b) => b.join(' '))
  angle.value = p.layout.bank_angle_deg ?? 0
  fire(p.firings[0]!)
}
function fire(f: Schemas['Firing']) {
  order.value = f.order.join(' ')
  intervals.value = f.intervals_deg ?? undefined
}
const words = (f: Schemas['Firing']) =>
  f.order.join('-') + (f.intervals_deg ? `, ${f.intervals_deg.join('° / ')}°` : ', even')

watch(
  () => layouts.data.value,
  (all) => all && !preset.value && choose(all.find((p) => p.name === 'Inline 4')!),
  { immediate: true },
)
watch(
  group,
  () =>
    inGroup.value.length && choose(inGroup.value.find((p) => p.layout.banks!.flat().length === 4) ?? inGroup.value[0]!),
)

const figures: { key: keyof Engine; words: string; hint?: string }[] = [
  { key: 'bore_mm', words: 'Bore, mm' },
  { key: 'stroke_mm', words: 'Stroke, mm' },
  { key: 'rod_mm', words: 'Rod, mm' },
  { key: 'compression_ratio', words: 'Compression ratio' },
  { key: 'intake_closes_abdc_deg', words: 'Intake closes, ° after BDC' },
  { key: 'altitude_m', words: 'Altitude, m' },
]
const choices: {
  key: 'kind' | 'duty' | 'fuel' | 'induction' | 'meter_unit' | 'rotation'
  words: string
  of: string[]
}[] = [
  {
    key: 'duty',
    words: 'Used for',
    of: ['street', 'track-day', 'circuit', 'drag', 'rally', 'pulling', 'marine', 'motorcycle', 'kart', 'work'],
  },
  { key: 'meter_unit', words: 'Its meter counts', of: ['h', 'km', 'mi', 'runs', 'events'] },
  { key: 'kind', words: 'Kind', of: ['four-stroke', 'two-stroke'] },
  { key: 'fuel', words: 'Fuel', of: ['petrol', 'diesel', 'ethanol', 'methanol', 'gas', 'other'] },
  { key: 'induction', words: 'Induction', of: ['natural', 'turbo', 'supercharged'] },
  { key: 'rotation', words: 'Runs', of: ['clockwise', 'anticlockwise'] },
]

async function save() {
  problem.value = undefined
  unreachable.value = false
  const body: Engine = { ...engine, name: engine.name.trim(), layout: layout.value, firing_order: numbers(order.value) }
  if (intervals.value) body.firing_intervals_deg = intervals.value
  for (const key of Object.keys(body) as (keyof Engine)[]) if ((body[key] as unknown) === '') delete body[key]
  try {
    const kept = await ask(api.POST('/api/engines', { body }))
    await client.invalidateQueries({ queryKey: ['rack'] })
    await router.push(`/engines/${kept.id}`)
  } catch (error) {
    if (error instanceof Refused) problem.value = error.problem
    else unreachable.value = true
  }
}

useKeys([
  { keys: ['Enter'], does: 'in a field: keep the engine' },
  { keys: ['Escape'], does: 'back to the rack', run: () => router.push('/'), inFields: true },
])
</script>

<template>
  <main class="mx-auto max-w-[1400px] px-4 py-5 sm:px-6">
    <h1 class="text-3xl font-semibold">New engine</h1>
    <form class="mt-4 grid gap-x-10 gap-y-6 lg:grid-cols-2" novalidate @submit.prevent="save">
      <div class="grid content-start gap-4">
        <LabelledField label="Name" :fault="faultOf(problem, 'name')">
          <input v-model="engine.name" class="field text-xl" maxlength="200" autofocus autocomplete="off" />
        </LabelledField>
        <LabelledField label="Owner" :fault="faultOf(problem, 'owner')">
          <input v-model="engine.owner" class="field" autocomplete="off" />
        </LabelledField>

        <fieldset>
          <legend class="font-semibold">Cylinders</legend>
          <div class="mt-1 flex flex-wrap gap-2">
            <label
              v-for="g in groups"
              :key="g"
              class="flex min-h-11 cursor-pointer items-center border border-rule bg-sheet px-4 has-checked:border-ink has-checked:bg-ink has-checked:text-paper has-focus-visible:outline-3 has-focus-visible:outline-verdigris"
            >
              <input v-model="group" class="sr-only" type="radio" name="group" :value="g" />{{ g }}
            </label>
          </div>
          <div v-if="inGroup.length > 1" class="mt-2 flex flex-wrap gap-2">
            <button
              v-for="[name, [first]] in sizes"
              :key="name"
              type="button"
              class="choice"
              :aria-pressed="numberings.includes(first!)"
              @click="choose(first!)"
            >
              {{ name }}
            </button>
          </div>
          <div v-if="numberings.length > 1" class="mt-2 flex flex-wrap gap-2">
            <button
              v-for="p in numberings"
              :key="p.name"
              type="button"
              class="choice"
              :aria-pressed="p === preset"
              @click="choose(p)"
            >
              {{ p.name.split(', ')[1] }}
            </button>
          </div>
        </fieldset>

        <div class="grid gap-3 sm:grid-cols-2">
          <LabelledField
            v-for="(_, i) in banks"
            :key="i"
            :label="banks.length > 1 ? `Bank ${i + 1}, from the front` : 'Numbers, from the front'"
            :fault="faultOf(problem, `layout.banks.${i}`)"
          >
            <input v-model="banks[i]" class="field figures" inputmode="numeric" />
          </LabelledField>
        </div>
        <LabelledField
          label="Firing order"
          :fault="faultOf(problem, 'firing_order') ?? faultOf(problem, 'firing_intervals_deg')"
        >
          <input v-model="order" class="field figures" inputmode="numeric" @input="intervals = undefined" />
        </LabelledField>
        <div v-if="preset && preset.firings.length > 1" class="flex flex-wrap gap-2" aria-label="Usual firing orders">
          <button
            v-for="f in preset.firings"
            :key="words(f)"
            type="button"
            class="choice figures text-[0.85rem]"
            :aria-pressed="order === f.order.join(' ') && intervals === f.intervals_deg"
            @click="fire(f)"
          >
            {{ words(f) }}
          </button>
        </div>
      </div>

      <div class="grid content-start gap-5">
        <BorePlan
          :layout="layout"
          :bores="layout.banks.flat().map((cylinder) => ({ cylinder }))"
          :style="{ maxWidth: `${Math.max(...layout.banks.map((b) => b.length), 2) * 130}px` }"
        />
        <div class="grid grid-cols-2 gap-3 sm:grid-cols-3">
          <LabelledField v-for="c in choices" :key="c.key" :label="c.words" :fault="faultOf(problem, c.key)">
            <select v-model="engine[c.key]" class="field">
              <option v-for="o in c.of" :key="o">{{ o }}</option>
            </select>
          </LabelledField>
        </div>
        <fieldset>
          <legend class="font-semibold">Figures, as far as you have them</legend>
          <div class="mt-1 grid grid-cols-2 gap-3 sm:grid-cols-3">
            <LabelledField v-for="f in figures" :key="f.key" :label="f.words" :fault="faultOf(problem, f.key)">
              <input
                v-model.number="engine[f.key]"
                class="field figures"
                type="number"
                step="any"
                inputmode="decimal"
              />
            </LabelledField>
          </div>
        </fieldset>
        <p v-if="unreachable" role="alert" class="font-semibold">
          Braxel cannot be reached. What you typed is still here; try again.
        </p>
        <p v-else-if="problem" role="alert" class="font-semibold">Not kept yet: see the marked fields.</p>
        <button class="button-main min-h-14 text-xl">Keep this engine</button>
      </div>
    </form>
  </main>
</template>
