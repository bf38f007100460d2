<script setup lang="ts">
import type { ScaleLinear } from 'd3-scale'
import type { Schemas } from '@/api/client'
import { signed } from '@/composables/useFormat'
import { sayer } from '@/words/say'
import texts from '@/words/en/compare.json'

const says = sayer(texts)

/** A change with its doubt: the dot is what was found, the line holds the truth nineteen times in twenty. */
defineProps<{ moved: Schemas['Moved']; scale: ScaleLinear<number, number>; unit: string }>()
</script>

<template>
  <span class="flex items-center gap-3 whitespace-nowrap">
    <svg width="220" height="26" aria-hidden="true" class="shrink-0 max-sm:hidden" viewBox="0 0 220 26">
      <line :x1="scale(0)" :x2="scale(0)" y1="2" y2="24" class="stroke-rule" />
      <line :x1="scale(moved.low)" :x2="scale(moved.high)" y1="13" y2="13" class="stroke-ink" stroke-width="1.8" />
      <circle
        :cx="scale(moved.by)"
        cy="13"
        r="5.5"
        stroke-width="1.4"
        :class="{
          'fill-verdigris stroke-verdigris': moved.move === 'better',
          'fill-act stroke-act': moved.move === 'worse',
          'fill-paper stroke-ink': moved.move === 'same' || moved.move === 'untold',
        }"
      />
    </svg>
    <span class="figures" :class="moved.move === 'better' || moved.move === 'worse' ? 'font-semibold' : 'text-soft'">
      {{ signed(moved.by) }} {{ unit
      }}<span class="block text-[0.85rem] font-normal text-soft sm:sr-only">{{
        says('from', { low: signed(moved.low), high: signed(moved.high) })
      }}</span>
    </span>
  </span>
</template>
