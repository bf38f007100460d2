<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { nanoid } from 'nanoid'
import { reactive, watch } from 'vue'
import { faultOf } from '@/api/client'
import { longest } from '@/api/constants.gen'
import FigureField from '@/components/FigureField.vue'
import LabelledField from '@/components/LabelledField.vue'
import PanelDialog from '@/components/PanelDialog.vue'
import { useDraft } from '@/composables/useDraft'
import { useHandIn } from '@/composables/useHandIn'
import { tellAll, type Typed } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/season.json'
import type { Board, Head } from './useSeason'
import { useTold } from './useTold'

const says = sayer(texts)

/** An event of the season: when, and how long engines run there in the meters that they have. */
const props = defineProps<{ open: boolean; board: Board; was?: Head }>()
const emit = defineEmits<{ close: [] }>()
const fresh = () => ({
  id: props.was?.id ?? nanoid(),
  name: props.was?.name ?? '',
  date: props.was?.date ?? '',
  until: props.was?.until ?? '',
  sort: props.was?.sort ?? '',
  hours: props.was?.hours,
  km: props.was?.km,
  runs: props.was?.runs,
  times: props.was?.times,
  cars: [...(props.was?.cars ?? [])],
})
const form = reactive(fresh())
const draft = useDraft(
  'season.event',
  () => ({ ...form }),
  (typed) => Object.assign(form, typed),
)
const { problem, told } = useTold()
watch(
  () => props.open,
  (open) => {
    if (!open) return draft.rest()
    Object.assign(form, fresh())
    problem.value = undefined
    if (!props.was) draft.begin()
  },
  { immediate: true },
)
const touch = (car: string) =>
  (form.cars = form.cars.includes(car) ? form.cars.filter((c) => c !== car) : [...form.cars, car])

const send = (id: string, body: Record<string, unknown>) =>
  told(tellAll([{ id, kind: 'meeting', body } as Typed<'meeting'>]))
const { handIn: keep } = useHandIn(async (id, done) => {
  if ([form.hours, form.km, form.runs, form.times].some((v) => Number.isNaN(v))) return // the fields say so
  const blank = (v: string) => v.trim() || null
  const body = {
    id: form.id,
    name: form.name.trim(),
    date: form.date,
    until: blank(form.until),
    sort: blank(form.sort),
    hours: form.hours ?? null,
    km: form.km ?? null,
    runs: form.runs ?? null,
    times: form.times ?? null,
    cars: form.cars.length ? form.cars : null,
  }
  if (!(await send(id, body))) return
  draft.done()
  done()
  emit('close')
})
const { handIn: off } = useHandIn(async (id, done) => {
  if (!(await send(id, { id: form.id, off: true }))) return
  done()
  emit('close')
})
</script>

<template>
  <PanelDialog :open="open" class="max-w-xl" data-event-dialog @close="emit('close')">
    <DialogTitle class="text-xl font-semibold">{{ was ? was.name : says('add-event') }}</DialogTitle>
    <form class="mt-3 grid gap-3 sm:grid-cols-2" novalidate @submit.prevent="keep">
      <LabelledField :label="says('name')" :fault="faultOf(problem, 'name')" class="sm:col-span-2"
        ><input v-model="form.name" class="field" :maxlength="longest.AheadMeeting?.name ?? 120" data-name
      /></LabelledField>
      <LabelledField :label="says('first-day')" :fault="faultOf(problem, 'date')"
        ><input v-model="form.date" type="date" class="field figures" data-date
      /></LabelledField>
      <LabelledField :label="says('last-day')" :fault="faultOf(problem, 'until')"
        ><input v-model="form.until" type="date" class="field figures"
      /></LabelledField>
      <p class="text-soft sm:col-span-2">{{ says('how-long') }}</p>
      <FigureField v-model="form.hours" :label="says('hours')" :fault="faultOf(problem, 'hours')" data-hours />
      <FigureField v-model="form.km" :label="says('km')" :fault="faultOf(problem, 'km')" />
      <FigureField v-model="form.runs" :label="says('runs')" :fault="faultOf(problem, 'runs')" />
      <FigureField v-model="form.times" :label="says('counts-times')" :fault="faultOf(problem, 'times')" />
      <LabelledField :label="says('sort')" :fault="faultOf(problem, 'sort')" class="sm:col-span-2"
        ><input v-model="form.sort" class="field" :maxlength="longest.AheadMeeting?.sort ?? 60"
      /></LabelledField>
      <fieldset v-if="board.cars.length > 1" class="sm:col-span-2">
        <legend class="text-[0.95rem] text-soft">{{ says('who-goes') }}</legend>
        <div class="mt-1 flex flex-wrap gap-2">
          <button
            v-for="c in board.cars"
            :key="c.id"
            type="button"
            class="choice"
            :aria-pressed="form.cars.includes(c.id)"
            @click="touch(c.id)"
          >
            {{ c.name }}
          </button>
        </div>
        <p v-if="!form.cars.length" class="mt-1 text-[0.95rem] text-soft">{{ says('none-picked-all-go') }}</p>
      </fieldset>
      <p v-if="problem && !problem.errors" role="alert" class="font-semibold sm:col-span-2">{{ problem.detail }}</p>
      <div class="flex flex-wrap gap-3 sm:col-span-2">
        <button type="button" class="button-plain grow" @click="emit('close')">{{ says('cancel') }}</button>
        <button v-if="was" type="button" class="button-plain grow" data-off @click="off">{{ says('call-off') }}</button>
        <button class="button-main grow" data-save>{{ says('save') }}</button>
      </div>
    </form>
  </PanelDialog>
</template>
