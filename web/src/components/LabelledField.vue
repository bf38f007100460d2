<script setup lang="ts">
import { onMounted, onUpdated, useId, useTemplateRef } from 'vue'

const props = defineProps<{ label: string; fault?: string }>()
const id = useId()
const box = useTemplateRef<HTMLElement>('box')

// The field stands in the slot; it is tied to its label and its fault here, once for all pages.
function tie() {
  const field = box.value?.querySelector('input, select, textarea')
  if (!field) return
  field.id = id
  field.setAttribute('aria-invalid', String(props.fault !== undefined))
  if (props.fault) field.setAttribute('aria-describedby', `${id}-fault`)
  else field.removeAttribute('aria-describedby')
}
onMounted(tie)
onUpdated(tie)
</script>

<template>
  <div ref="box">
    <label :for="id" class="block text-[0.95rem] text-soft">{{ label }}</label>
    <slot />
    <p v-if="fault" :id="`${id}-fault`" class="mt-0.5 font-semibold" data-fault>{{ fault }}</p>
  </div>
</template>
