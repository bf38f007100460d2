<script setup lang="ts">
import type { State } from '@/api/client'
import { punches } from './state'

defineProps<{ state: State }>()
const fill: Record<State, string> = {
  steady: 'bg-steady text-[#17242b]',
  retest: 'border-2 border-ink text-ink',
  watch: 'bg-watch text-white',
  act: 'bg-act text-white',
  stop: 'bg-stop text-white',
}
</script>

<template>
  <span
    class="inline-flex items-center gap-1.5 rounded-[2px] px-2 py-0.5 font-semibold whitespace-nowrap"
    :class="fill[state]"
  >
    <span v-if="state === 'retest'" class="size-2.5 rounded-full border-2 border-current" aria-hidden="true" />
    <span v-for="n in punches[state]" :key="n" class="size-1.5 rounded-full bg-current" aria-hidden="true" />
    {{ state }}
  </span>
</template>
