<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

const props = defineProps<{ wheel: Schemas['Wheel']; step: number; small?: boolean }>()

const at = computed(() => props.wheel.steps[props.step]!)
const way = computed(() => (props.wheel.rotation === 'clockwise' ? 1 : -1))
// Seen from the pulley, turning brings later marks up to the pointer: they stand behind it, against the rotation.
const place = (deg: number) => -way.value * (deg - at.value.crank_deg)
const ticks = Array.from({ length: 72 }, (_, i) => i * 5)
</script>

<template>
  <svg
    viewBox="-190 -190 380 380"
    class="w-full"
    role="img"
    :aria-label="says('pulley-with-at-pointer', { cylinder: at.cylinder })"
  >
    <path d="M0 -124l-13 -20h26z" class="fill-verdigris" />
    <g :style="{ transform: `rotate(${way * at.crank_deg}deg)` }" class="transition-transform duration-300">
      <circle r="120" class="fill-sheet stroke-ink" stroke-width="2" />
      <line
        v-for="d in ticks"
        :key="d"
        :y1="d % 30 === 0 ? -104 : -112"
        y2="-119"
        class="stroke-ink"
        :stroke-width="d % 30 === 0 ? 1.6 : 0.8"
        :transform="`rotate(${d})`"
      />
      <rect
        v-for="m in wheel.marks"
        :key="m.deg"
        x="-4"
        y="-120"
        width="8"
        height="26"
        class="fill-verdigris"
        :transform="`rotate(${-way * m.deg})`"
      />
      <circle r="88" class="fill-none stroke-rule" />
    </g>
    <g v-for="m in wheel.marks" :key="m.deg">
      <text
        :x="160 * Math.sin((place(m.deg) * Math.PI) / 180)"
        :y="-160 * Math.cos((place(m.deg) * Math.PI) / 180) + 7"
        text-anchor="middle"
        class="figures text-[20px]"
        :class="m.cylinders.includes(at.cylinder) ? 'fill-verdigris font-semibold' : 'fill-ink'"
      >
        {{ m.cylinders.join(' · ') }}
      </text>
    </g>
    <path
      :d="`M${-62 * way} 6A62 62 0 0 ${way > 0 ? 1 : 0} ${-4 * way} -62`"
      class="fill-none stroke-verdigris"
      stroke-width="5"
    />
    <path :d="`M${-4 * way} -74l${18 * way} 12l${-18 * way} 12z`" class="fill-verdigris" />
    <text y="14" text-anchor="middle" class="figures fill-ink text-[40px] font-semibold">
      {{ at.turn_deg ? `${at.turn_deg}°` : at.cylinder }}
    </text>
    <text y="40" text-anchor="middle" class="fill-soft text-[16px]">
      {{ at.turn_deg ? wheel.rotation : says('start-here') }}
    </text>
  </svg>
</template>
