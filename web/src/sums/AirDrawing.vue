<script setup lang="ts">
import { computed } from 'vue'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/sums.json'

const says = sayer(texts)

/** The air's share of sea level's, as a column that thins. */
const props = defineProps<{ ambient: number }>()
const share = computed(() => Math.min(Math.max(props.ambient / 101.325, 0), 1.1))
const layers = Array.from({ length: 40 }, (_, i) => i)
</script>

<template>
  <svg
    viewBox="0 0 520 320"
    class="w-full"
    role="img"
    :aria-label="says('air-at-sea-level', { share: rounded(share * 100, 0) })"
  >
    <line
      v-for="i in layers"
      :key="i"
      x1="60"
      x2="460"
      :y1="290 - i * i * 0.17 - i"
      :y2="290 - i * i * 0.17 - i"
      class="stroke-track"
      stroke-width="1.4"
    />
    <path d="M60 292L180 170L230 214L330 84L460 292Z" class="fill-verdigris-pale stroke-ink" stroke-width="2" />
    <line
      x1="60"
      x2="460"
      :y1="290 - (1 - share) * 520"
      :y2="290 - (1 - share) * 520"
      class="stroke-act"
      stroke-width="2.5"
    />
    <text x="460" :y="282 - (1 - share) * 520" text-anchor="end" class="figures fill-ink text-[18px] font-semibold">
      {{ rounded(share * 100, 0) }} %
    </text>
    <text x="60" y="314" class="fill-soft text-[15px]">{{ says('sea-level') }}</text>
  </svg>
</template>
