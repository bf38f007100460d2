<script setup lang="ts">
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

defineEmits<{ digit: [digit: string]; back: [] }>()
const digits = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '.', '0']
</script>

<template>
  <div class="grid grid-cols-3 gap-1.5 sm:gap-2">
    <button
      v-for="d in digits"
      :key="d"
      type="button"
      class="figures min-h-[clamp(1.9rem,6.4svh,3.75rem)] leading-none border border-rule bg-sheet text-3xl active:bg-verdigris-pale"
      @click="$emit('digit', d)"
    >
      {{ d }}
    </button>
    <button
      type="button"
      class="min-h-[clamp(1.9rem,6.4svh,3.75rem)] leading-none border border-rule bg-sheet text-2xl active:bg-verdigris-pale"
      :aria-label="says('delete-digit-empty-field-undo')"
      @click="$emit('back')"
    >
      ←
    </button>
  </div>
</template>
