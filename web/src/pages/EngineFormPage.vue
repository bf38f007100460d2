<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { faultOf, type Problem, type Schemas } from '@/api/client'
import { longest } from '@/api/constants.gen'
import { engineQuery, protocolsQuery, rulebookQuery } from '@/api/queries'
import BorePlan from '@/components/BorePlan.vue'
import FigureField from '@/components/FigureField.vue'
import LabelledField from '@/components/LabelledField.vue'
import { useDraft } from '@/composables/useDraft'
import { useHandIn } from '@/composables/useHandIn'
import { useKeys } from '@/composables/useKeys'
import { usePageTitle } from '@/composables/usePageTitle'
import { problemOf } from '@/composables/useSheet'
import { choices, figures } from '@/engine/fields'
import { layoutNamed } from '@/engine/named'
import LayoutFields from '@/engine/LayoutFields.vue'
import LimitsFields from '@/engine/LimitsFields.vue'
import { useLayout } from '@/engine/useLayout'
import IdentityFields from '@/engine/IdentityFields.vue'
import { useIdentity } from '@/engine/useIdentity'
import { useLimits } from '@/engine/useLimits'
import { changed, given, seen, slug } from '@/outbox/change'
import { drop, tell, type Typed } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/engine-form.json'

const says = sayer(texts)

/** With an engine it changes that one; without, it enters a new one. */
const props = defineProps<{ engine?: string }>()
const router = useRouter()
const protocols = useQuery(protocolsQuery)
const kept = useQuery({ ...engineQuery(props.engine ?? ''), enabled: !!props.engine })
const was = computed(() => (props.engine ? kept.data.value?.engine : undefined))

const form = reactive<Schemas['Engine'] & { typed: Record<string, string> }>({
  name: '',
  kind: 'four-stroke',
  layout: {},
  rotation: 'clockwise',
  fuel: 'petrol',
  induction: 'natural',
  duty: 'street',
  meter_unit: 'h',
  typed: {},
})
const place = useLayout()
const limits = useLimits(() => was.value?.limits)
const identity = useIdentity(() => was.value?.identity)
/** How long it is left between tests, if not as others of its duty. */
const plan = reactive({ every: undefined as number | undefined, months: undefined as number | undefined })
const problem = ref<Problem>()

/** All that can be typed here, so that nothing of it is lost when the form is left. */
const state = () => ({
  form: { ...form },
  limits: { ...limits.form },
  identity: { ...identity.form },
  plan: { ...plan },
  ...place.typed(),
})
const draft = useDraft(props.engine ?? 'new', state, (typed: ReturnType<typeof state>) => {
  Object.assign(form, typed.form)
  Object.assign(limits.form, typed.limits)
  Object.assign(identity.form, typed.identity)
  Object.assign(plan, typed.plan)
  place.restore(typed)
})
const { restored } = draft
const widest = computed(() =>
  Math.max(...(place.layout.value.banks ?? []).map((b) => b.length), place.rotary.value ? place.rotors.value : 2),
)

watch(
  () => place.presets.value,
  (all) => {
    if (!all || props.engine || place.preset.value) return
    place.choose(all.find((p) => p.name === 'Inline 4')!)
    draft.begin()
  },
  { immediate: true },
)
function chooseGroup() {
  if (place.rotary.value) form.kind = 'rotary'
  else if (form.kind === 'rotary') form.kind = 'four-stroke'
  place.chooseGroup()
}
/** The layout as it was typed; what is half typed leaves the one that stands. */
const byName = ref('')
const named = computed(() => layoutNamed(byName.value, place.presets.value ?? []))
const unknownLayout = computed(() =>
  byName.value.trim().length > 1 && !named.value ? says('no-such-layout', { typed: byName.value.trim() }) : undefined,
)
watch(named, (found) => {
  if (!found) return
  place.group.value = 'rotors' in found ? 'rotary' : found.preset.group
  chooseGroup()
  if ('rotors' in found) place.rotors.value = found.rotors
  else place.choose(found.preset)
})
// Another that is picked by hand stands, and no name beside it says otherwise.
watch([place.group, place.preset, place.rotors], ([group, preset, rotors]) => {
  const found = named.value
  if (!found) return
  const same = 'rotors' in found ? group === 'rotary' && rotors === found.rotors : preset === found.preset
  if (!same) byName.value = ''
})

// An engine that is changed fills the form once; what is typed after that stands.
let filled = false
watch(
  was,
  (e) => {
    if (!e || filled) return
    filled = true
    Object.assign(form, e, { typed: { ...e.typed } })
    place.fill(e)
    Object.assign(plan, { every: e.plan?.every, months: e.plan?.months })
    limits.fill(e.limits)
    identity.fill(e.identity)
    draft.begin()
  },
  { immediate: true },
)

/** What was typed as a number and is none: nothing of it is left out in silence. Fields of figures say so themselves. */
function faults(): NonNullable<Problem['errors']> {
  const typed = [
    ...figures.map((f) => form[f.key]),
    place.angle.value,
    place.master.value,
    ...limits.figures(),
    plan.every,
    plan.months,
  ]
  return [
    ...place.faults(),
    ...(byName.value.trim() !== '' && !named.value
      ? [{ location: '', message: says('no-such-layout', { typed: byName.value.trim() }) }]
      : []),
    ...(typed.some((v) => Number.isNaN(v)) ? [{ location: '', message: says('not-number') }] : []),
    ...limits.faults(),
  ]
}

const { handIn: save } = useHandIn(async (name, done) => {
  const none = faults()
  problem.value = none.length ? { errors: none } : undefined
  if (problem.value) return
  const whole: Record<string, unknown> = {
    ...form,
    name: form.name.trim(),
    typed: Object.values(form.typed).some(Boolean) ? form.typed : undefined,
    ...place.given(),
    limits: limits.given(),
    identity: identity.given(),
    plan: plan.every || plan.months ? { ...was.value?.plan, ...plan } : undefined,
  }
  delete whole.id
  const body = was.value ? changed({ ...was.value }, whole) : given(whole)
  const id = props.engine ?? `${slug(form.name)}-${name.slice(0, 4)}`
  if (was.value && Object.keys(body).length === 0) return router.push(`/engines/${id}`)
  const outcome = await tell({
    id: name,
    kind: 'engine',
    engine: id,
    body,
    ...(was.value ? { was: seen({ ...was.value }, body) } : {}),
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
    every: by ? says('every-or', { by, meter_unit: form.meter_unit }) : says('every'),
    months: every.months,
  })
})
usePageTitle(() => (props.engine ? [kept.data.value?.engine.name, says('figures-2')] : [says('new-engine')]))
const back = () => router.push(props.engine ? `/engines/${props.engine}` : '/')
useKeys([
  { keys: ['Enter'], does: says('field-save-engine') },
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
        <div class="grid gap-3 sm:grid-cols-[minmax(0,1fr)_10rem]">
          <LabelledField :label="says('name')" :fault="faultOf(problem, 'name')">
            <input
              v-model="form.name"
              class="field text-xl"
              :maxlength="longest.Engine.name"
              autofocus
              autocomplete="off"
            />
          </LabelledField>
          <LabelledField v-if="!props.engine" :label="says('layout-by-name')" :fault="unknownLayout">
            <input v-model="byName" class="field text-xl" placeholder="V6" autocomplete="off" data-by-name />
          </LabelledField>
        </div>
        <LabelledField :label="says('owner')" :fault="faultOf(problem, 'owner')">
          <input v-model="form.owner" class="field" autocomplete="off" />
        </LabelledField>

        <LayoutFields :form="place" :problem="problem" @group="chooseGroup" />
        <IdentityFields v-model="identity.form" :problem="problem" :open="!!was?.identity" />
      </div>

      <div class="grid content-start gap-5">
        <BorePlan
          :layout="place.layout.value"
          :bores="place.bores.value.map((cylinder) => ({ cylinder }))"
          :style="{ maxWidth: `${widest * 130}px` }"
        />
        <div class="grid grid-cols-2 gap-3 sm:grid-cols-3">
          <LabelledField
            v-for="c in choices.filter((c) => !place.rotary.value || !c.piston)"
            :key="c.key"
            :label="c.label"
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
              v-model="form[f.key]"
              v-model:typed="form.typed[f.key]"
              :label="f.label"
              :unit="f.unit"
              :fault="faultOf(problem, f.key)"
            />
          </div>
        </fieldset>
        <LimitsFields :form="limits" :problem="problem">
          <LabelledField :label="says('test-protocol')" :fault="faultOf(problem, 'protocol')">
            <select v-model="form.protocol" class="field">
              <option value="">{{ says('one-fits-use') }}</option>
              <option v-for="p in protocols.data.value" :key="p.id" :value="p.id">{{ p.name }}</option>
            </select>
          </LabelledField>
        </LimitsFields>
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
        <div v-if="problem" role="alert">
          <p class="font-semibold">{{ problem.errors?.length ? says('not-saved-yet-see-marked') : problem.detail }}</p>
          <!-- What is wrong is also said here: a field of it may stand in a part that is closed, or be none of this form's. -->
          <ul>
            <li v-for="e in problem.errors" :key="`${e.location}${e.message}`">{{ e.message }}</li>
          </ul>
        </div>
        <button class="button-main min-h-14 text-xl">{{ says('save-engine') }}</button>
      </div>
    </form>
  </main>
</template>
