<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { figureOf, noFigure } from '@/composables/figure'
import LabelledField from './LabelledField.vue'

/**
 * A labelled field of a form that takes a figure, with a comma or a point. Its value is undefined where nothing was typed and NaN
 * where it is none, which is said at once; what was typed stands as it was typed.
 */
const model = defineModel<number | undefined>({ required: true })
defineProps<{ label: string; fault?: string }>()
const text = ref('')
const same = (a: number | undefined, b: number | undefined) => a === b || (Number.isNaN(a) && Number.isNaN(b))
watch(
  model,
  (value) => {
    if (!same(figureOf(text.value), value ?? undefined)) text.value = String(value ?? '')
  },
  { immediate: true },
)
const none = computed(() => Number.isNaN(figureOf(text.value)))
function type(event: Event) {
  text.value = (event.target as HTMLInputElement).value
  model.value = figureOf(text.value)
}
</script>

<template>
  <LabelledField :label="label" :fault="none ? noFigure(text) : fault">
    <input class="field figures" inputmode="decimal" autocomplete="off" :value="text" @input="type" />
  </LabelledField>
</template>
