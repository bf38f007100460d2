<script setup lang="ts">
import { longest, words as constants } from '@/api/constants.gen'
import { usePageTitle } from '@/composables/usePageTitle'
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { faultOf, type Problem, type Schemas } from '@/api/client'
import { engineQuery, layoutsQuery, protocolsQuery, rulebookQuery } from '@/api/queries'
import BorePlan from '@/components/BorePlan.vue'
import FigureField from '@/components/FigureField.vue'
import LabelledField from '@/components/LabelledField.vue'
import { figureOf, noFigure, pressureUnits } from '@/composables/figure'
import { listed, namesOf, noName, noNumber } from '@/composables/lists'
import { useHandIn } from '@/composables/useHandIn'
import { useDraft } from '@/composables/useDraft'
import { useKeys } from '@/composables/useKeys'
import { problemOf } from '@/composables/useSheet'
import { changed, given, seen, slug } from '@/outbox/change'
import { drop, tell, type Typed } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/engine-form.json'

const says = sayer(texts)

type Engine = Schemas['Engine']

/** With an engine it changes that one; without, it enters a new one. */
const props = defineProps<{ engine?: string }>()
const router = useRouter()
const layouts = useQuery(layoutsQuery)
const protocols = useQuery(protocolsQuery)
const kept = useQuery({ ...engineQuery(props.engine ?? ''), enabled: !!props.engine })

const group = ref('inline')
const preset = ref<Schemas['Preset']>()
const banks = ref<string[]>(['1 2 3 4'])
const order = ref('1 3 4 2')
const intervals = ref<number[]>()
const angle = ref<number | undefined>(0)
/** The cylinder of a radial's master rod. */
const master = ref<number>()
/** A rotary has rotors, and its maker may give factors by speed, typed as "200 1.12, 250 1". */
const rotors = ref(2)
const factors = ref('')
const rotary = computed(() => group.value === 'rotary')
/** The owner's own names for cylinders, typed as "1 1L, 2 1R". */
const called = ref('')
const form = reactive<Engine>({
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
/** How long it is left between tests, if not as others of its duty. */
const plan = reactive({ every: undefined as number | undefined, months: undefined as number | undefined })
const limits = reactive({
  source: '',
  nominal: '',
  minimum: undefined as number | undefined,
  unit: 'psi' as Schemas['Reading']['unit'],
  spread: undefined as number | undefined,
  leak: undefined as number | undefined,
})

/** All that can be typed here, so that nothing of it is lost when the form is left. */
const state = () => ({
  form: { ...form },
  limits: { ...limits },
  plan: { ...plan },
  group: group.value,
  banks: banks.value,
  order: order.value,
  intervals: intervals.value,
  angle: angle.value,
  called: called.value,
  rotors: rotors.value,
  factors: factors.value,
  master: master.value,
})
const draft = useDraft(props.engine ?? 'new', state, (typed: ReturnType<typeof state>) => {
  Object.assign(form, typed.form)
  Object.assign(limits, typed.limits)
  Object.assign(plan, typed.plan)
  group.value = typed.group
  banks.value = typed.banks
  order.value = typed.order
  intervals.value = typed.intervals
  angle.value = typed.angle
  called.value = typed.called
  rotors.value = typed.rotors ?? 2
  factors.value = typed.factors ?? ''
  master.value = typed.master
})
const { restored } = draft

const groups = ['inline', 'vee', 'flat', 'single', 'radial', 'rotary']
const inGroup = computed(() => layouts.data.value?.filter((p) => p.group === group.value) ?? [])
/** The numbers of cylinders to choose from; where numbering differs by maker, it is chosen below. */
const sizes = computed(() => Map.groupBy(inGroup.value, (p) => p.name.split(',')[0]!))
const numberings = computed(() => sizes.value.get(preset.value?.name.split(',')[0] ?? '') ?? [])
const numbers = (text: string) => listed(text).numbers
const layout = computed((): Engine['layout'] =>
  rotary.value
    ? { rotors: rotors.value }
    : {
        banks: banks.value.map(numbers).filter((b) => b.length),
        ...(angle.value ? { bank_angle_deg: angle.value } : {}),
        ...(group.value === 'radial' ? { radial: true, master_rod: master.value } : {}),
      },
)
const bores = computed(() =>
  rotary.value ? Array.from({ length: rotors.value }, (_, i) => i + 1) : (layout.value.banks ?? []).flat(),
)
/** The maker's factors as they are typed: pairs of a speed and a factor. */
const speedTable = () =>
  factors.value
    .split(/[\n;]+|,\s+/)
    .map((row) => row.trim().split(/[\s:=]+/))
    .filter(([rpm]) => rpm)
    .map(([rpm, factor]) => ({ rpm: figureOf(rpm!)!, factor: figureOf(factor ?? '')! }))

function choose(p: Schemas['Preset']) {
  preset.value = p
  banks.value = p.layout.banks!.map((b) => b.join(' '))
  angle.value = p.layout.bank_angle_deg ?? 0
  fire(p.firings[0]!)
}
function fire(f: Schemas['Firing']) {
  order.value = f.order.join(' ')
  intervals.value = f.intervals_deg ?? undefined
  turnsTyped.value = undefined
}
/** The turns as they stand in their field while they are no figures. */
const turnsTyped = ref<string>()
/** The turns as they are typed, "270 450"; empty where they are even. */
const turns = computed({
  get: () => turnsTyped.value ?? intervals.value?.join(' ') ?? '',
  set: (text) => {
    turnsTyped.value = text
    intervals.value = text.trim() === '' ? undefined : listed(text).numbers
  },
})
const words = (f: Schemas['Firing']) =>
  f.order.join('-') + (f.intervals_deg ? `, ${f.intervals_deg.join('° / ')}°` : says('even'))

watch(
  () => layouts.data.value,
  (all) => {
    if (!all || props.engine || preset.value) return
    choose(all.find((p) => p.name === 'Inline 4')!)
    draft.begin()
  },
  { immediate: true },
)
function chooseGroup() {
  if (rotary.value) form.kind = 'rotary'
  else if (form.kind === 'rotary') form.kind = 'four-stroke'
  const usual = inGroup.value.find((p) => p.layout.banks!.flat().length === 4) ?? inGroup.value[0]
  if (usual) choose(usual)
}

// An engine that is changed fills the form once; what is typed after that stands.
let filled = false
watch(
  () => kept.data.value?.engine,
  (e) => {
    if (!e || filled) return
    filled = true
    Object.assign(form, e)
    banks.value = (e.layout.banks ?? []).map((b) => b.join(' '))
    angle.value = e.layout.bank_angle_deg ?? 0
    master.value = e.layout.master_rod
    called.value = Object.entries(e.layout.names ?? {})
      .map(([n, name]) => `${n} ${name}`)
      .join(', ')
    rotors.value = e.layout.rotors ?? 2
    factors.value = (e.speed_table ?? []).map((row) => `${row.rpm} ${row.factor}`).join(', ')
    group.value =
      e.kind === 'rotary'
        ? 'rotary'
        : e.layout.radial
          ? 'radial'
          : banks.value.length > 1
            ? angle.value === 180
              ? 'flat'
              : 'vee'
            : 'inline'
    order.value = e.firing_order?.join(' ') ?? ''
    intervals.value = e.firing_intervals_deg
    Object.assign(plan, { every: e.plan?.every, months: e.plan?.months })
    const own = e.limits
    Object.assign(limits, {
      source: own?.source ?? '',
      nominal: inUnit(own?.compression_nominal, own?.compression_minimum),
      minimum: own?.compression_minimum?.value,
      unit: (own?.compression_minimum ?? own?.compression_nominal)?.unit ?? 'psi',
      spread: own?.spread_maximum_pct,
      leak: own?.leak_maximum_pct,
    })
    draft.begin()
  },
  { immediate: true },
)

/** The usual figure as the form shows it; one that is written in another unit than the least is shown with its own. */
function inUnit(usual?: Schemas['Reading'], least?: Schemas['Reading']) {
  if (!usual) return ''
  return least && least.unit !== usual.unit ? `${usual.value} ${usual.unit}` : String(usual.value)
}

/** The usual figure as typed; left as it was, it keeps its own unit. */
function nominal(was?: Schemas['Reading']): Schemas['Reading'] | undefined {
  const typed = limits.nominal.trim()
  if (typed === '') return undefined
  if (was && typed === `${was.value} ${was.unit}`) return was
  return { value: figureOf(typed)!, unit: limits.unit }
}

/** The builder's or the maker's own limits, as far as any is given; what else stood in them is kept. */
function ownLimits(): Engine['limits'] {
  const all = {
    ...kept.data.value?.engine.limits,
    source: limits.source.trim() || undefined,
    compression_nominal: nominal(kept.data.value?.engine.limits?.compression_nominal),
    compression_minimum: limits.minimum === undefined ? undefined : { value: limits.minimum, unit: limits.unit },
    spread_maximum_pct: limits.spread,
    leak_maximum_pct: limits.leak,
  }
  return Object.values(all).some((v) => v !== undefined) ? all : undefined
}

const figures: { key: keyof Engine; words: string; hint?: string }[] = [
  { key: 'bore_mm', words: says('bore-mm') },
  { key: 'stroke_mm', words: says('stroke-mm') },
  { key: 'rod_mm', words: says('rod-mm') },
  { key: 'compression_ratio', words: says('compression-ratio') },
  { key: 'intake_closes_abdc_deg', words: says('intake-closes-after-bdc') },
  { key: 'altitude_m', words: says('altitude-m') },
]
const oneOf = constants.Engine
const choices: {
  key: 'kind' | 'duty' | 'fuel' | 'fuelling' | 'induction' | 'meter_unit' | 'rotation' | 'ring_pack'
  words: string
  of: readonly string[]
}[] = [
  {
    key: 'duty',
    words: says('used-for'),
    of: oneOf.duty,
  },
  { key: 'meter_unit', words: says('running-hours-or-distance'), of: oneOf.meter_unit },
  { key: 'kind', words: 'Kind', of: oneOf.kind.filter((k) => k !== 'rotary') },
  { key: 'fuel', words: 'Fuel', of: oneOf.fuel },
  { key: 'fuelling', words: says('fuel-system'), of: oneOf.fuelling },
  { key: 'induction', words: 'Induction', of: oneOf.induction },
  { key: 'rotation', words: 'Runs', of: oneOf.rotation },
  { key: 'ring_pack', words: 'Rings', of: oneOf.ring_pack },
]

/** Even turns are of the order that they were chosen with; uneven ones stand, and are refused where they do not fit. */
const fits = () => intervals.value?.length === numbers(order.value).length || new Set(intervals.value).size > 1

/** What was typed as a figure and is none: nothing of it is left out in silence. Fields of figures say so themselves. */
function noFigures(): Problem['errors'] {
  const fields = [
    ...figures.map((f) => form[f.key]),
    angle.value,
    master.value,
    limits.minimum,
    limits.spread,
    limits.leak,
    plan.every,
    plan.months,
  ]
  const table = rotary.value && factors.value.trim() ? speedTable() : []
  if (table.some((row) => !(row.rpm > 0 && row.factor > 0)))
    return [{ location: 'body.speed_table', message: says('pairs-speed-factor-such-as') }]
  // A list is read where it can be; what can't be is said, and stands as it was typed.
  const lists = rotary.value
    ? []
    : [
        ...banks.value.map((text, i) => ({ location: `body.layout.banks.${i}`, none: listed(text).none })),
        { location: 'body.firing_order', none: listed(order.value).none },
        { location: 'body.firing_intervals_deg', none: listed(turns.value).none },
      ]
  const unnamed = namesOf(called.value).none
  const was = kept.data.value?.engine.limits?.compression_nominal
  const asItWas = was && limits.nominal === `${was.value} ${was.unit}`
  return [
    ...lists.filter((l) => l.none).map((l) => ({ location: l.location, message: noNumber(l.none) })),
    ...(unnamed ? [{ location: 'body.layout.names', message: noName(unnamed) }] : []),
    ...(fields.some((v) => Number.isNaN(v)) ? [{ location: '', message: says('not-number') }] : []),
    ...(Number.isNaN(figureOf(limits.nominal)) && !asItWas
      ? [{ location: 'body.limits.compression_nominal', message: noFigure(limits.nominal) }]
      : []),
  ]
}

const { handIn: save } = useHandIn(async (name, done) => {
  const none = noFigures()
  problem.value = none?.length ? { errors: none } : undefined
  if (problem.value) return
  const names = namesOf(called.value).names
  const whole: Record<string, unknown> = {
    ...form,
    name: form.name.trim(),
    layout: {
      ...layout.value,
      ...(Object.keys(names).length ? { names } : {}),
    },
    firing_order: rotary.value ? [] : numbers(order.value),
    firing_intervals_deg: !rotary.value && fits() ? intervals.value : undefined,
    speed_table: rotary.value && factors.value.trim() ? speedTable() : undefined,
    limits: ownLimits(),
    plan: plan.every || plan.months ? { ...kept.data.value?.engine.plan, ...plan } : undefined,
  }
  delete whole.id
  const was = props.engine ? kept.data.value?.engine : undefined
  const body = was ? changed({ ...was }, whole) : given(whole)
  const id = props.engine ?? `${slug(form.name)}-${name.slice(0, 4)}`
  if (was && Object.keys(body).length === 0) return router.push(`/engines/${id}`)
  const outcome = await tell({
    id: name,
    kind: 'engine',
    engine: id,
    body,
    ...(was ? { was: seen({ ...was }, body) } : {}),
  } as Typed<'engine'>)
  if (outcome.is !== 'refused') {
    draft.done()
    done()
    return router.push(`/engines/${id}`)
  }
  await drop(outcome.entry.id)
  problem.value = problemOf(outcome)
})

/** What others of its duty go by, in its own meter's unit. */
const rulebook = useQuery(rulebookQuery)
const usual = computed(() => {
  const every = rulebook.data.value?.intervals.find((i) => i.duty === form.duty)
  if (!every) return says('duty')
  const by = every.by[form.meter_unit ?? 'h']
  return says('months', {
    every: by ? says('every-or', { by, meter_unit: form.meter_unit }) : 'every ',
    months: every.months,
  })
})
usePageTitle(() => (props.engine ? [kept.data.value?.engine.name, 'figures'] : [says('new-engine')]))
const back = () => router.push(props.engine ? `/engines/${props.engine}` : '/')
useKeys([
  { keys: ['Enter'], does: 'in a field: keep the engine' },
  { keys: ['Escape'], does: says('outside-field-back-what-you'), run: back },
])
</script>

<template>
  <main class="mx-auto max-w-[1400px] px-4 py-5 sm:px-6">
    <h1 class="text-3xl font-semibold">{{ props.engine ? kept.data.value?.engine.name : says('new-engine') }}</h1>
    <p v-if="restored" role="status" class="mt-2" data-restored>
      {{ says('what-you-typed-here-earlier') }}
      <button class="link min-h-11" @click="draft.afresh">{{ says('discard') }}</button>
    </p>
    <form class="mt-4 grid gap-x-10 gap-y-6 lg:grid-cols-2" novalidate @submit.prevent="save()">
      <div class="grid content-start gap-4">
        <LabelledField :label="says('name')" :fault="faultOf(problem, 'name')">
          <input
            v-model="form.name"
            class="field text-xl"
            :maxlength="longest.Engine.name"
            autofocus
            autocomplete="off"
          />
        </LabelledField>
        <LabelledField :label="says('owner')" :fault="faultOf(problem, 'owner')">
          <input v-model="form.owner" class="field" autocomplete="off" />
        </LabelledField>

        <fieldset>
          <legend class="font-semibold">{{ rotary ? 'Rotors' : 'Cylinders' }}</legend>
          <div class="mt-1 flex flex-wrap gap-2">
            <label
              v-for="g in groups"
              :key="g"
              class="flex min-h-11 cursor-pointer items-center border border-rule bg-sheet px-4 has-checked:border-ink has-checked:bg-ink has-checked:text-paper has-focus-visible:outline-3 has-focus-visible:outline-verdigris"
            >
              <input v-model="group" class="sr-only" type="radio" name="group" :value="g" @change="chooseGroup" />{{
                g
              }}
            </label>
          </div>
          <div v-if="rotary" class="mt-2 flex flex-wrap gap-2">
            <button
              v-for="n in 4"
              :key="n"
              type="button"
              class="choice"
              :aria-pressed="rotors === n"
              @click="rotors = n"
            >
              {{ n }} {{ n === 1 ? 'rotor' : 'rotors' }}
            </button>
          </div>
          <div v-else-if="inGroup.length > 1" class="mt-2 flex flex-wrap gap-2">
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
          <div v-if="!rotary && numberings.length > 1" class="mt-2 flex flex-wrap gap-2">
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

        <div v-if="!rotary" class="grid gap-3 sm:grid-cols-2">
          <LabelledField
            v-for="(_, i) in banks"
            :key="i"
            :label="banks.length > 1 ? says('bank-from-front', { i: i + 1 }) : says('cylinders-from-front')"
            :fault="faultOf(problem, `layout.banks.${i}`)"
          >
            <input v-model="banks[i]" class="field figures" inputmode="numeric" />
          </LabelledField>
        </div>
        <LabelledField :label="says('your-own-names-for-cylinders')" :fault="faultOf(problem, 'layout.names')">
          <input v-model="called" class="field" :placeholder="says('1-front-left-2-front')" autocomplete="off" />
        </LabelledField>
        <LabelledField
          v-if="rotary"
          :label="says('makers-factors-250-rpm-speed')"
          :fault="faultOf(problem, 'speed_table')"
        >
          <input v-model="factors" class="field figures" placeholder="200 1.12, 250 1, 300 0.93" autocomplete="off" />
        </LabelledField>
        <p v-if="rotary && !factors.trim()" class="text-soft">
          {{ says('without-them-braxel-estimates-what') }}
        </p>
        <LabelledField v-if="!rotary" :label="says('firing-order')" :fault="faultOf(problem, 'firing_order')">
          <input v-model="order" class="field figures" inputmode="numeric" />
        </LabelledField>
        <div v-if="!rotary" class="grid gap-3 sm:grid-cols-2">
          <LabelledField :label="says('turn-between-firings')" :fault="faultOf(problem, 'firing_intervals_deg')">
            <input v-model="turns" class="field figures" inputmode="numeric" placeholder="even" />
          </LabelledField>
          <FigureField
            v-if="group === 'radial'"
            v-model="master"
            :label="says('master-rod-cylinder')"
            :fault="faultOf(problem, 'layout.master_rod')"
          />
          <FigureField
            v-if="banks.length > 1"
            v-model="angle"
            :label="says('angle-between-banks')"
            :fault="faultOf(problem, 'layout.bank_angle_deg')"
          />
        </div>
        <div
          v-if="!rotary && preset && preset.firings.length > 1"
          class="flex flex-wrap gap-2"
          :aria-label="says('common-firing-orders')"
        >
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
          :bores="bores.map((cylinder) => ({ cylinder }))"
          :style="{
            maxWidth: `${Math.max(...(layout.banks ?? []).map((b) => b.length), rotary ? rotors : 2) * 130}px`,
          }"
        />
        <div class="grid grid-cols-2 gap-3 sm:grid-cols-3">
          <LabelledField
            v-for="c in choices.filter((c) => !rotary || (c.key !== 'kind' && c.key !== 'ring_pack'))"
            :key="c.key"
            :label="c.words"
            :fault="faultOf(problem, c.key)"
          >
            <select v-model="form[c.key]" class="field">
              <option v-for="o in c.of" :key="o">{{ o }}</option>
            </select>
          </LabelledField>
        </div>
        <fieldset>
          <legend class="font-semibold">{{ says('figures-you-have') }}</legend>
          <div class="mt-1 grid grid-cols-2 gap-3 sm:grid-cols-3">
            <FigureField
              v-for="f in figures"
              :key="f.key"
              v-model="form[f.key] as number | undefined"
              :label="f.words"
              :fault="faultOf(problem, f.key)"
            />
          </div>
        </fieldset>
        <fieldset>
          <legend class="font-semibold">{{ says('builders-or-makers-limits-these') }}</legend>
          <div class="mt-1 grid grid-cols-2 gap-3 sm:grid-cols-3">
            <LabelledField :label="says('compression-spec')" :fault="faultOf(problem, 'limits.compression_nominal')">
              <input v-model="limits.nominal" class="field figures" inputmode="decimal" />
            </LabelledField>
            <FigureField
              v-model="limits.minimum"
              :label="says('compression-minimum')"
              :fault="faultOf(problem, 'limits.compression_minimum')"
            />
            <LabelledField label="in">
              <select v-model="limits.unit" class="field">
                <option v-for="u in pressureUnits" :key="u">{{ u }}</option>
              </select>
            </LabelledField>
            <LabelledField :label="says('from')" :fault="faultOf(problem, 'limits.source')">
              <input v-model="limits.source" class="field" :placeholder="says('builder')" />
            </LabelledField>
            <FigureField
              v-model="limits.spread"
              :label="says('spread-maximum')"
              :fault="faultOf(problem, 'limits.spread_maximum_pct')"
            />
            <FigureField
              v-model="limits.leak"
              :label="says('leak-maximum')"
              :fault="faultOf(problem, 'limits.leak_maximum_pct')"
            />
            <LabelledField :label="says('test-protocol')" :fault="faultOf(problem, 'protocol')">
              <select v-model="form.protocol" class="field">
                <option value="">{{ says('one-fits-use') }}</option>
                <option v-for="p in protocols.data.value" :key="p.id" :value="p.id">{{ p.name }}</option>
              </select>
            </LabelledField>
          </div>
        </fieldset>
        <fieldset>
          <legend class="font-semibold">
            {{ says('time-between-tests')
            }}<span class="font-normal text-soft"> {{ says('otherwise-as-for-others-used', { usual }) }}</span>
          </legend>
          <div class="mt-1 grid grid-cols-2 gap-3 sm:grid-cols-3">
            <FigureField
              v-model="plan.every"
              :label="says('own-every', { meter_unit: form.meter_unit ?? '' })"
              :fault="faultOf(problem, 'plan.every')"
            />
            <FigureField v-model="plan.months" :label="says('or-months')" :fault="faultOf(problem, 'plan.months')" />
          </div>
        </fieldset>
        <p v-if="problem" role="alert" class="font-semibold">{{ says('not-saved-yet-see-marked') }}</p>
        <button class="button-main min-h-14 text-xl">{{ says('save-engine') }}</button>
      </div>
    </form>
  </main>
</template>
