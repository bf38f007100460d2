<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { noFigure } from '@/composables/figure'
import { measured, unitIn } from '@/composables/measures'
import LabelledField from './LabelledField.vue'

/**
 * A labelled field of a form that takes a figure, with a comma or a point. Its value is undefined where nothing was typed and NaN
 * where it is none, which is said at once; what was typed stands as it was typed.
 */
const { label } = defineProps<{ label: string; fault?: string }>()
const model = defineModel<number | undefined>({ required: true })
const text = ref('')
/** Typed with another unit of the same thing it is brought to the field's own, which stands in its label; what was typed stands. */
const read = (typed: string) => {
  const words = label.split(/[\s,()]+/)
  return measured(
    typed,
    unitIn(label) ?? words.find((w) => w !== '' && typed.toLowerCase().trim().endsWith(w.toLowerCase())),
  )
}
const same = (a: number | undefined, b: number | undefined) => a === b || (Number.isNaN(a) && Number.isNaN(b))
watch(
  model,
  (value) => {
    if (!same(read(text.value), value ?? undefined)) text.value = String(value ?? '')
  },
  { immediate: true },
)
const none = computed(() => Number.isNaN(read(text.value)))
function type(event: Event) {
  text.value = (event.target as HTMLInputElement).value
  model.value = read(text.value)
}
</script>

<template>
  <LabelledField :label="label" :fault="none ? noFigure(text) : fault">
    <input class="field figures" inputmode="decimal" autocomplete="off" :value="text" @input="type" />
  </LabelledField>
</template>
