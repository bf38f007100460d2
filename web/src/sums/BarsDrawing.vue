<script setup lang="ts">
import { computed } from 'vue'
import { shown } from './units'
import { sayer } from '@/words/say'
import texts from '@/words/en/sums.json'

const says = sayer(texts)

const props = defineProps<{ groups: number[][] }>()
const all = computed(() => props.groups.flat().filter(Number.isFinite))
const high = computed(() => Math.max(...all.value, 1))
const low = computed(() => Math.min(...all.value, high.value * 0.7) * 0.95)
const y = (v: number) => 250 - (215 * (v - low.value)) / (high.value - low.value || 1)
const x = (i: number) => (480 / props.groups.length) * (i + 0.5) + 20
</script>

<template>
  <svg viewBox="0 0 520 290" class="w-full" role="img" :aria-label="says('readings-side-side')">
    <line x1="20" x2="500" :y1="y(high)" :y2="y(high)" class="stroke-verdigris" stroke-dasharray="3 4" />
    <text x="500" :y="y(high) - 7" text-anchor="end" class="fill-verdigris text-[14px]">{{ says('highest') }}</text>
    <line x1="20" x2="500" y1="252" y2="252" class="stroke-rule" />
    <g v-for="(g, i) in groups" :key="i">
      <line :x1="x(i)" :x2="x(i)" y1="252" :y2="y(Math.max(...g))" class="stroke-track" stroke-width="16" />
      <circle
        v-for="(v, k) in g"
        :key="k"
        :cx="x(i) + (k - (g.length - 1) / 2) * 12"
        :cy="y(v)"
        r="5"
        class="fill-ink"
      />
      <text :x="x(i)" y="276" text-anchor="middle" class="figures fill-soft text-[14px]">
        {{ g.length === 1 ? shown(g[0]!, 'pressure') : i + 1 }}
      </text>
    </g>
  </svg>
</template>
