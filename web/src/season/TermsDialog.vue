<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { reactive, watch } from 'vue'
import { faultOf } from '@/api/client'
import FigureField from '@/components/FigureField.vue'
import LabelledField from '@/components/LabelledField.vue'
import PanelDialog from '@/components/PanelDialog.vue'
import { useHandIn } from '@/composables/useHandIn'
import { tellAll, type Typed } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/season.json'
import type { Board } from './useSeason'
import { useTold } from './useTold'
import { oneIn } from './words'

const says = sayer(texts)

/** What the season is planned by: the chance that the owner takes, what work takes, when parts come. */
const props = defineProps<{ open: boolean; board: Board }>()
const emit = defineEmits<{ close: [] }>()
const fields = [
  'test_h',
  'freshen_h',
  'rebuild_h',
  'swap_h',
  'day_h',
  'lead_days',
  'freshen_costs',
  'rebuild_costs',
  'money',
  'budget',
] as const
type Field = (typeof fields)[number]
const labels: Record<Field, string> = {
  test_h: says('test-takes'),
  freshen_h: says('freshen-takes'),
  rebuild_h: says('rebuild-takes'),
  swap_h: says('swap-takes'),
  day_h: says('day-has'),
  lead_days: says('parts-take'),
  freshen_costs: says('freshen-costs'),
  rebuild_costs: says('rebuild-costs'),
  money: says('money'),
  budget: says('budget'),
}
const fresh = () => ({ chance: props.board.terms.chance ?? 0.05, ...pickOf() })
const pickOf = () =>
  Object.fromEntries(fields.map((f) => [f, props.board.terms[f]])) as Record<Field, number | undefined>
const form = reactive(fresh())
const { problem, told } = useTold()
watch(
  () => props.open,
  () => {
    Object.assign(form, fresh())
    problem.value = undefined
  },
)
const { handIn: keep } = useHandIn(async (id, done) => {
  if (fields.some((f) => Number.isNaN(form[f]))) return // the fields say so
  const body = { chance: form.chance, ...Object.fromEntries(fields.map((f) => [f, form[f] ?? null])) }
  if (!(await told(tellAll([{ id, kind: 'terms', body } as Typed<'terms'>])))) return
  done()
  emit('close')
})
const near = (n: number) => Math.abs(1 / n - form.chance) < 1e-6
</script>

<template>
  <PanelDialog :open="open" class="max-w-xl" data-terms-dialog @close="emit('close')">
    <DialogTitle class="text-xl font-semibold">{{ says('terms') }}</DialogTitle>
    <form class="mt-3 grid gap-3 sm:grid-cols-2" novalidate @submit.prevent="keep">
      <LabelledField :label="says('chance-you-take')" :fault="faultOf(problem, 'chance')" class="sm:col-span-2">
        <select v-model.number="form.chance" class="field" data-chance>
          <option v-for="n in oneIn" :key="n" :value="near(n) ? form.chance : 1 / n">
            {{ says('one-in', { n }) }}
          </option>
        </select>
      </LabelledField>
      <FigureField
        v-for="f in fields"
        :key="f"
        v-model="form[f]"
        :label="labels[f]"
        :fault="faultOf(problem, f)"
        :data-field="f"
      />
      <p v-if="problem && !problem.errors" role="alert" class="font-semibold sm:col-span-2">{{ problem.detail }}</p>
      <div class="flex gap-3 sm:col-span-2">
        <button type="button" class="button-plain grow" @click="emit('close')">{{ says('cancel') }}</button>
        <button class="button-main grow" data-save>{{ says('save') }}</button>
      </div>
    </form>
  </PanelDialog>
</template>
