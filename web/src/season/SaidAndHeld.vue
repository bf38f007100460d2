<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** Chances of about one size: a bar as long as the share of them that held, and a line where it was said to be. The figures stand
 * beside it. */
const props = defineProps<{ bin: Schemas['SeasonRecordBin'] }>()
const share = () => props.bin.held / props.bin.of
</script>

<template>
  <svg viewBox="0 0 100 14" class="block h-4 w-full" aria-hidden="true" preserveAspectRatio="none">
    <rect width="100" height="14" fill="var(--track)" />
    <rect :width="100 * share()" y="3" height="8" fill="var(--verdigris)" />
    <rect :x="100 * bin.said - 0.75" width="1.5" height="14" fill="var(--ink)" />
  </svg>
</template>
