<script setup lang="ts">
import { computed } from 'vue'
import DialFace from './DialFace.vue'
import { shown, unitOf } from './units'
import { sayer } from '@/words/say'
import texts from '@/words/en/sums.json'

const says = sayer(texts)

const props = defineProps<{ figures: Record<string, unknown>; answer: Record<string, number | number[]> }>()
const n = (key: string, otherwise = 0) => Number(props.figures[key] ?? otherwise)
const other = computed(() => props.answer.other_held_kpa as number | undefined)
const full = computed(() => Math.max(n('supply_kpa'), n('other_supply_kpa')) * 1.15 || 1)
// Holes are drawn 70 px to the millimetre, smaller where they would not fit.
const scale = computed(() =>
  Math.min(70, 96 / Math.max(n('orifice_mm', 1), n('other_orifice_mm'), Number(props.answer.hole_mm) || 0)),
)
const holes = computed(() =>
  [
    { words: says('orifice'), mm: n('orifice_mm', 1), leak: false },
    { words: says('leak'), mm: Number(props.answer.hole_mm), leak: true },
    ...(other.value === undefined ? [] : [{ words: says('other-orifice'), mm: n('other_orifice_mm'), leak: false }]),
  ].filter((h) => h.mm > 0),
)
</script>

<template>
  <svg viewBox="0 0 520 385" class="w-full" role="img" :aria-label="says('dials-supply-held-pressure-hole')">
    <DialFace
      :transform="other === undefined ? 'translate(150 100)' : 'translate(90 100)'"
      :words="says('supply')"
      :value="n('supply_kpa')"
      :full="full"
      :text="shown(n('supply_kpa'), 'pressure')"
    />
    <DialFace
      :transform="other === undefined ? 'translate(370 100)' : 'translate(260 100)'"
      :words="says('held')"
      :value="n('held_kpa')"
      :full="full"
      :text="shown(n('held_kpa'), 'pressure')"
    />
    <DialFace
      v-if="other !== undefined"
      transform="translate(430 100)"
      :words="says('held-other-tester')"
      :value="other"
      :full="full"
      :text="shown(other, 'pressure')"
    />
    <g v-for="(h, i) in holes" :key="h.words" :transform="`translate(${(520 / (holes.length + 1)) * (i + 1)} 268)`">
      <circle
        :r="(h.mm * scale) / 2"
        :class="h.leak ? 'fill-ink' : 'fill-none stroke-soft'"
        stroke-width="1.5"
        stroke-dasharray="4 3"
      />
      <text y="68" text-anchor="middle" class="fill-soft text-[15px]">{{ h.words }}</text>
      <text y="90" text-anchor="middle" class="figures fill-ink text-[16px]">
        {{ shown(h.mm, 'length') }} {{ unitOf('length') }}
      </text>
    </g>
  </svg>
</template>
