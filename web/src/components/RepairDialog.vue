<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { longest } from '@/api/constants.gen'
import { faultOf, type Problem, type Schemas } from '@/api/client'
import { today as todayHere } from '@/api/clock'
import { rulebookQuery } from '@/api/queries'
import { useDraft } from '@/composables/useDraft'
import { useHandIn } from '@/composables/useHandIn'
import { problemOf } from '@/composables/useSheet'
import { drop, tell, type Typed } from '@/outbox/useOutbox'
import FigureField from './FigureField.vue'
import LabelledField from './LabelledField.vue'
import PanelDialog from './PanelDialog.vue'
import type { Happened } from './HappenedForm.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** A repair: what was done, on which cylinders; the next test then answers whether it worked. */
const props = defineProps<{
  open: boolean
  engine: string
  kind: string
  cylinders: { cylinder: number; name?: string }[]
  unit: string
  /** The day of the workshop: what is entered is of that day or later. */
  today: string
  /** The test that showed what to repair, with the cylinders in concern and the likeliest cause. */
  after?: string
  concern?: number[]
  cause?: string
  was?: Happened
}>()
const emit = defineEmits<{ close: []; kept: [words: string] }>()
const rulebook = useQuery(rulebookQuery)
const works = computed(() => {
  const fit = (rulebook.data.value?.works ?? []).filter((w) => !w.kinds?.length || w.kinds.includes(props.kind))
  const cures = (w: Schemas['Work']) => (props.cause && w.cures?.includes(props.cause) ? 0 : 1)
  return [...fit].sort((a, b) => cures(a) - cures(b))
})
const fresh = () => ({
  date: props.was?.date ?? [todayHere(), props.today].sort().at(-1)!,
  meter: props.was?.meter,
  work: props.was?.work ?? '',
  cylinders: [...(props.was?.cylinders ?? (props.was ? [] : (props.concern ?? [])))],
  what: props.was?.what ?? '',
})
const form = reactive(fresh())
const draft = useDraft(
  `repair.${props.engine}.${props.was?.entry ?? ''}`,
  () => ({ ...form }),
  (typed) => Object.assign(form, typed),
)
const problem = ref<Problem>()
watch(
  () => props.open,
  (open) => {
    if (!open) return
    Object.assign(form, fresh())
    problem.value = undefined
    draft.begin()
  },
  { immediate: true },
)
const touch = (c: number) =>
  (form.cylinders = form.cylinders.includes(c)
    ? form.cylinders.filter((x) => x !== c)
    : [...form.cylinders, c].sort((a, b) => a - b))
/** Left in the order offered, the likeliest is first: it is taken unless another is picked. */
const picked = computed(() => form.work || works.value[0]?.work || '')

const { handIn: keep } = useHandIn(async (id, done) => {
  const { date, meter, cylinders } = form
  if (Number.isNaN(meter)) return // its field says so
  const work = picked.value as 'other'
  const what = form.what.trim() || (works.value.find((w) => w.work === work)?.words ?? '')
  const body = {
    date,
    what,
    meter,
    kind: 'repair' as const,
    work,
    cylinders,
    after: props.was ? props.was.after : props.after,
  }
  const outcome = await tell({ id, kind: 'event', engine: props.engine, body } as Typed<'event'>)
  if (outcome.is === 'refused') {
    await drop(outcome.entry.id)
    problem.value = problemOf(outcome)
    return
  }
  if (props.was)
    void tell({ kind: 'strike', engine: props.engine, body: { entry: props.was.entry, why: says('corrected') } })
  draft.done()
  done()
  emit('kept', outcome.is === 'waiting' ? says('waits-sent') : '')
  emit('close')
})
</script>

<template>
  <PanelDialog :open="open" class="max-w-xl" @close="$emit('close')">
    <DialogTitle class="text-xl font-semibold">{{ was ? says('change-repair') : says('record-repair') }}</DialogTitle>
    <p class="mt-1 text-soft">{{ says('next-test-answers-whether') }}</p>
    <form class="mt-3 grid gap-3 sm:grid-cols-2" novalidate @submit.prevent="keep">
      <LabelledField :label="says('what-was-done')" :fault="faultOf(problem, 'work')" class="sm:col-span-2">
        <select
          class="field"
          :value="picked"
          data-work
          @change="form.work = ($event.target as HTMLSelectElement).value"
        >
          <option v-for="w in works" :key="w.work" :value="w.work">{{ w.words }}</option>
        </select>
      </LabelledField>
      <fieldset v-if="cylinders.length > 1" class="sm:col-span-2">
        <legend class="text-[0.95rem] text-soft">
          {{ says('on-which', { kind: kind === 'rotary' ? says('rotors') : says('cylinders') }) }}
        </legend>
        <div class="mt-1 flex flex-wrap gap-2">
          <button
            v-for="c in cylinders"
            :key="c.cylinder"
            type="button"
            class="choice figures min-w-11"
            :aria-pressed="form.cylinders.includes(c.cylinder)"
            @click="touch(c.cylinder)"
          >
            {{ c.name || c.cylinder }}
          </button>
        </div>
        <p v-if="!form.cylinders.length" class="mt-1 text-[0.95rem] text-soft">{{ says('none-picked-means-all') }}</p>
      </fieldset>
      <LabelledField :label="says('date')" :fault="faultOf(problem, 'date')"
        ><input v-model="form.date" type="date" class="field figures"
      /></LabelledField>
      <FigureField v-model="form.meter" :label="says('meter-in', { unit })" :fault="faultOf(problem, 'meter')" />
      <LabelledField :label="says('your-words')" class="sm:col-span-2" :fault="faultOf(problem, 'what')"
        ><input
          v-model="form.what"
          class="field"
          :maxlength="longest.Event.what"
          :placeholder="says('parts-machinist-who')"
      /></LabelledField>
      <p v-if="problem && !problem.errors" role="alert" class="font-semibold sm:col-span-2">{{ problem.detail }}</p>
      <div class="flex gap-3 sm:col-span-2">
        <button type="button" class="button-plain grow" @click="$emit('close')">{{ says('cancel') }}</button>
        <button class="button-main grow" data-save>{{ says('save') }}</button>
      </div>
    </form>
  </PanelDialog>
</template>
