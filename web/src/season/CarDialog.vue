<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { nanoid } from 'nanoid'
import { reactive, watch } from 'vue'
import { faultOf, type Schemas } from '@/api/client'
import { longest } from '@/api/constants.gen'
import LabelledField from '@/components/LabelledField.vue'
import PanelDialog from '@/components/PanelDialog.vue'
import { useDraft } from '@/composables/useDraft'
import { useHandIn } from '@/composables/useHandIn'
import { tellAll, type Typed } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/season.json'
import type { Board } from './useSeason'
import { useTold } from './useTold'

const says = sayer(texts)

/** A car, boat or bike: which engines fit it, and which is in it now. */
const props = defineProps<{ open: boolean; board: Board; was?: Schemas['AheadCar'] }>()
const emit = defineEmits<{ close: [] }>()
const fresh = () => ({
  id: props.was?.id ?? nanoid(),
  name: props.was?.name ?? '',
  engines: [...(props.was?.engines ?? [])],
  sits: props.was?.sits ?? '',
})
const form = reactive(fresh())
const draft = useDraft(
  'season.car',
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
const touch = (id: string) => {
  form.engines = form.engines.includes(id) ? form.engines.filter((e) => e !== id) : [...form.engines, id]
  if (!form.engines.includes(form.sits)) form.sits = form.engines[0] ?? ''
}
const send = (id: string, body: Record<string, unknown>) => told(tellAll([{ id, kind: 'car', body } as Typed<'car'>]))
const { handIn: keep } = useHandIn(async (id, done) => {
  const body = { id: form.id, name: form.name.trim(), engines: form.engines, sits: form.sits || null }
  if (!(await send(id, body))) return
  done()
  draft.done()
  emit('close')
})
const { handIn: off } = useHandIn(async (id, done) => {
  if (!(await send(id, { id: form.id, off: true }))) return
  done()
  emit('close')
})
const nameOf = (id: string) => props.board.offered.find((e) => e.id === id)?.name ?? id
</script>

<template>
  <PanelDialog :open="open" class="max-w-xl" data-car-dialog @close="emit('close')">
    <DialogTitle class="text-xl font-semibold">{{ was ? was.name : says('add-car') }}</DialogTitle>
    <form class="mt-3 grid gap-4" novalidate @submit.prevent="keep">
      <LabelledField :label="says('name')" :fault="faultOf(problem, 'name')"
        ><input v-model="form.name" class="field" :maxlength="longest.AheadCar?.name ?? 120" data-name
      /></LabelledField>
      <fieldset>
        <legend class="text-[0.95rem] text-soft">{{ says('engines-that-fit') }}</legend>
        <div class="mt-1 flex flex-wrap gap-2">
          <button
            v-for="e in board.offered"
            :key="e.id"
            type="button"
            class="choice"
            :aria-pressed="form.engines.includes(e.id)"
            @click="touch(e.id)"
          >
            {{ e.name }}
          </button>
        </div>
      </fieldset>
      <LabelledField v-if="form.engines.length > 1" :label="says('in-it-now')" :fault="faultOf(problem, 'sits')">
        <select v-model="form.sits" class="field">
          <option v-for="e in form.engines" :key="e" :value="e">{{ nameOf(e) }}</option>
        </select>
      </LabelledField>
      <p v-if="problem && !problem.errors" role="alert" class="font-semibold">{{ problem.detail }}</p>
      <div class="flex flex-wrap gap-3">
        <button type="button" class="button-plain grow" @click="emit('close')">{{ says('cancel') }}</button>
        <button v-if="was" type="button" class="button-plain grow" @click="off">{{ says('take-out') }}</button>
        <button class="button-main grow" data-save>{{ says('save') }}</button>
      </div>
    </form>
  </PanelDialog>
</template>
