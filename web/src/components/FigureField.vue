<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { figureOf, noFigure } from '@/composables/figure'
import LabelledField from './LabelledField.vue'

/**
 * A labelled field of a form that takes a figure, with a comma or a point. Its value is undefined where nothing was typed and NaN
 * where it is none, which is said at once; what was typed stands as it was typed.
 */
const model = defineModel<number | undefined>({ required: true })
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
const { label } = defineProps<{ label: string; fault?: string }>()
function withoutUnit(typed: string): string | undefined {
  const [, figure, unit = ''] = /^\s*([+-]?[\d.,]+)\s*(\D+?)\s*$/.exec(typed) ?? []
  const words = label.toLowerCase().split(/[\s,()]+/)
  return figure && words.includes(unit.toLowerCase()) ? figure : undefined
}
function type(event: Event) {
  const typed = (event.target as HTMLInputElement).value
  // A figure that is pasted with its unit is that figure where it is a unit of the field, which stands in its label.
  const read = /[a-z%]/i.test(typed) ? withoutUnit(typed) : undefined
  text.value = read ?? typed
  model.value = figureOf(text.value)
}
</script>

<template>
  <LabelledField :label="label" :fault="none ? noFigure(text) : fault">
    <input class="field figures" inputmode="decimal" autocomplete="off" :value="text" @input="type" />
  </LabelledField>
</template>
