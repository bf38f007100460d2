<script setup lang="ts">
import { useTemplateRef } from 'vue'
import { noPaste, pasted, type PressureUnit } from '@/composables/figure'

/** A field of the sheet that takes a figure and nothing else; what is typed is kept as typed. Its letters are the sheet's keys. */
const model = defineModel<string>({ required: true })
const emit = defineEmits<{ typed: []; unit: [unit: PressureUnit]; unread: [said: string] }>()
const field = useTemplateRef<HTMLInputElement>('field')

function only(event: Event) {
  const data = (event as InputEvent).data
  if (data === null || data === undefined) return
  if (/[^0-9.,]/.test(data)) event.preventDefault()
}
/** A figure may come with its unit and blanks around it; what is none is said to be none. */
function paste(event: ClipboardEvent) {
  event.preventDefault()
  const text = event.clipboardData?.getData('text') ?? ''
  const read = pasted(text)
  if (!read) return emit('unread', noPaste(text))
  if (read.unit) emit('unit', read.unit)
  model.value = read.figure
  emit('typed')
}
function input(event: Event) {
  model.value = (event.target as HTMLInputElement).value
  emit('typed')
}
defineExpose({ focus: () => field.value?.focus(), select: () => field.value?.select() })
</script>

<template>
  <input
    ref="field"
    data-figure
    :value="model"
    inputmode="none"
    autocomplete="off"
    class="figures w-full bg-transparent font-semibold caret-verdigris outline-none"
    @beforeinput="only"
    @paste="paste"
    @drop.prevent
    @input="input"
  />
</template>
