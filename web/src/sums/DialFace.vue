<script setup lang="ts">
import { computed } from 'vue'

const props = defineProps<{ words: string; value: number; full: number; text: string }>()
const start = -135
const angle = computed(() => start + 270 * Math.min(Math.max(props.value / props.full, 0), 1))
const ticks = Array.from({ length: 21 }, (_, i) => ({ at: start + i * 13.5, long: i % 5 === 0 }))
</script>

<template>
  <g>
    <circle r="74" class="fill-sheet stroke-ink" stroke-width="2" />
    <line
      v-for="t in ticks"
      :key="t.at"
      :y1="t.long ? -58 : -63"
      y2="-68"
      class="stroke-ink"
      :stroke-width="t.long ? 2 : 1"
      :transform="`rotate(${t.at})`"
    />
    <line
      y1="12"
      y2="-56"
      class="stroke-verdigris"
      stroke-width="3.5"
      stroke-linecap="round"
      :transform="`rotate(${angle})`"
    />
    <circle r="5" class="fill-ink" />
    <text y="42" text-anchor="middle" class="figures fill-ink text-[19px] font-semibold">{{ text }}</text>
    <text y="96" text-anchor="middle" class="fill-soft text-[15px]">{{ words }}</text>
  </g>
</template>
