<script setup lang="ts">
import { computed } from 'vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/sums.json'

const says = sayer(texts)

const props = defineProps<{ sum: string; figures: Record<string, unknown> }>()
const n = (key: string, otherwise: number) => Number(props.figures[key] ?? otherwise)

// The drawing is to scale: bore, stroke and rod share one measure; the crank's centre stands fixed.
const bore = computed(() => n('bore_mm', 87))
const stroke = computed(() => n('stroke_mm', n('distance_mm', 91)))
const rod = computed(() => n('rod_mm', stroke.value * 1.65))
const px = computed(() => 330 / (rod.value + stroke.value * 1.35 + bore.value * 0.25))
const centre = { x: 210, y: 372 }
const off = computed(() =>
  props.sum === 'piston-push'
    ? n('deg_from_tdc', 5)
    : props.sum === 'oil-gain'
      ? 0
      : 180 - n('intake_closes_abdc_deg', 60),
)
const pin = (deg: number) => {
  const r = (stroke.value / 2) * px.value
  const a = (deg * Math.PI) / 180
  const x = centre.x + r * Math.sin(a)
  const y = centre.y - r * Math.cos(a)
  return { x, y, top: y - Math.sqrt(Math.max((rod.value * px.value) ** 2 - (x - centre.x) ** 2, 0)) }
}
const now = computed(() => pin(off.value))
const tdc = computed(() => pin(0))
const half = computed(() => (bore.value * px.value) / 2)
const crown = computed(() => bore.value * px.value * 0.3)
const chamber = computed(() => Math.max((stroke.value / Math.max(n('compression_ratio', 10) - 1, 0.5)) * px.value, 3))
const head = computed(() => tdc.value.top - crown.value - chamber.value)
// The oil lies on the piston: its depth is its volume over the bore's area.
const oil = computed(() => ((n('oil_cc', 0) * 1000) / ((Math.PI / 4) * bore.value ** 2)) * px.value)
const bar = computed(() => Math.min(n('handle_mm', 300) * px.value, 190))
</script>

<template>
  <svg
    :viewBox="`0 ${head - 24} 420 ${centre.y + (stroke / 2) * px + 30 - head}`"
    class="mx-auto max-h-[27rem] w-full"
    role="img"
    :aria-label="says('piston-rod-crank-scale')"
  >
    <path
      :d="`M${centre.x - half} ${centre.y - 30}V${head}H${centre.x + half}V${centre.y - 30}`"
      class="fill-none stroke-ink"
      stroke-width="3"
    />
    <rect
      v-if="sum !== 'oil-gain' && sum !== 'piston-push'"
      :x="centre.x - half + 2"
      :width="half * 2 - 4"
      :y="tdc.top - crown"
      :height="crown"
      class="fill-none stroke-soft"
      stroke-dasharray="5 4"
    />
    <rect
      v-if="oil > 0"
      :x="centre.x - half + 2"
      :width="half * 2 - 4"
      :y="now.top - crown - Math.min(oil, chamber)"
      :height="Math.min(oil, chamber)"
      class="fill-steady"
    />
    <path :d="`M${centre.x} ${now.top}L${now.x} ${now.y}`" class="stroke-ink" stroke-width="9" stroke-linecap="round" />
    <rect
      :x="centre.x - half + 2"
      :width="half * 2 - 4"
      :y="now.top - crown"
      :height="crown"
      class="fill-verdigris-pale stroke-ink"
      stroke-width="2"
    />
    <circle :cx="centre.x" :cy="centre.y" :r="(stroke / 2) * px" class="fill-none stroke-rule" stroke-width="2" />
    <path
      :d="`M${centre.x} ${centre.y}L${now.x} ${now.y}`"
      class="stroke-ink"
      stroke-width="6"
      stroke-linecap="round"
    />
    <circle :cx="centre.x" :cy="centre.y" r="7" class="fill-ink" />
    <circle :cx="now.x" :cy="now.y" r="6" class="fill-sheet stroke-ink" stroke-width="2" />
    <template v-if="sum === 'piston-push'">
      <g :transform="`rotate(${off} ${centre.x} ${centre.y})`">
        <line
          :x1="centre.x"
          :x2="centre.x + bar"
          :y1="centre.y"
          :y2="centre.y"
          class="stroke-act"
          stroke-width="5"
          stroke-linecap="round"
        />
        <path
          :d="`M${centre.x + bar} ${centre.y + 8}v34m-7 -9l7 9l7 -9`"
          class="fill-none stroke-act"
          stroke-width="3"
        />
      </g>
      <path
        :d="`M${centre.x} ${head + 6}v${Math.max(now.top - crown - head - 12, 10)}`"
        class="stroke-verdigris"
        stroke-width="3"
      />
    </template>
    <text v-else-if="sum !== 'oil-gain'" x="10" :y="now.top - crown + 6" class="fill-soft text-[15px]">
      {{ says('intake-shut') }}
    </text>
    <text x="10" :y="tdc.top - crown + (sum === 'piston-push' ? -8 : 4)" class="fill-soft text-[15px]">
      {{ says('tdc') }}
    </text>
  </svg>
</template>
