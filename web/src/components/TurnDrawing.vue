<script setup lang="ts">
import { computed } from 'vue'

/** How far to turn the crank, as an arc in its running direction. More than once round is drawn as a whole turn. */
const props = defineProps<{ deg: number; rotation: string }>()
const r = 80
const way = computed(() => (props.rotation === 'anticlockwise' ? -1 : 1))
const turn = computed(() => Math.min(props.deg, 359.9))
const at = (deg: number, radius: number) => {
  const a = (way.value * deg * Math.PI) / 180
  return `${(radius * Math.sin(a)).toFixed(1)} ${(-radius * Math.cos(a)).toFixed(1)}`
}
const arc = computed(
  () => `M0 ${-r}A${r} ${r} 0 ${turn.value > 180 ? 1 : 0} ${way.value > 0 ? 1 : 0} ${at(turn.value, r)}`,
)
const head = computed(() => `M${at(turn.value + 14, r)}L${at(turn.value - 4, r - 15)}L${at(turn.value - 4, r + 15)}z`)
</script>

<template>
  <svg viewBox="-104 -104 208 208" role="img" :aria-label="`${deg}° ${rotation}`">
    <circle :r="r" class="fill-none stroke-current" stroke-width="2" />
    <path :d="arc" class="fill-none stroke-verdigris" stroke-width="14" />
    <path :d="head" class="fill-verdigris" />
    <text y="14" text-anchor="middle" class="figures fill-current text-[44px] font-semibold">{{ deg }}°</text>
  </svg>
</template>
