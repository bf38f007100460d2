<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { noFigure } from '@/composables/figure'
import { measured, unitIn } from '@/composables/measures'
import { asTyped, fromField, inField, unitFor } from '@/composables/shown'
import LabelledField from './LabelledField.vue'

/**
 * A labelled field of a form that takes a figure, with a comma or a point. Its value is undefined where nothing was typed and NaN
 * where it is none, which is said at once; what was typed stands as it was typed. With a unit of the log's it is shown, and typed, in
 * the one chosen for it, which its label names; its value is in the log's.
 */
const { label, unit, of } = defineProps<{ label: string; unit?: string; of?: string; fault?: string }>()
const model = defineModel<number | undefined>({ required: true })
/** How it was typed, to be kept beside it. */
const asItWas = defineModel<string>('typed')
const text = ref('')
const named = computed(() => (unit ? `${label}, ${unitFor(unit, of)}` : label))
/** Typed with another unit of the same thing it is brought to the field's own, which stands in its label; what was typed stands. */
const read = (typed: string) => {
  if (unit) return fromField(typed, unit, of)
  const words = label.split(/[\s,()]+/)
  return measured(
    typed,
    unitIn(label) ?? words.find((w) => w !== '' && typed.toLowerCase().trim().endsWith(w.toLowerCase())),
  )
}
const written = (value: number | undefined) =>
  value === undefined || value === null || !unit ? String(value ?? '') : inField(value, unit, of, asItWas.value)
const same = (a: number | undefined, b: number | undefined) => a === b || (Number.isNaN(a) && Number.isNaN(b))
watch(
  model,
  (value) => {
    if (!same(read(text.value), value ?? undefined)) text.value = written(value)
  },
  { immediate: true },
)
watch(named, () => Number.isNaN(model.value) || (text.value = written(model.value)))
const none = computed(() => Number.isNaN(read(text.value)))
function type(event: Event) {
  text.value = (event.target as HTMLInputElement).value
  model.value = read(text.value)
  if (unit) asItWas.value = asTyped(text.value, unit, of)
}
</script>

<template>
  <LabelledField :label="named" :fault="none ? noFigure(text) : fault">
    <input class="field figures" inputmode="decimal" autocomplete="off" :value="text" @input="type" />
  </LabelledField>
</template>
