<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { max, median, min } from 'd3-array'
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import { computed, useTemplateRef } from 'vue'
import type { Schemas } from '@/api/client'
import { signed } from '@/composables/useFormat'
import { ruleOf, times } from './strips'
import { filled } from './state'

const props = defineProps<{ page: Schemas['EnginePage']; current?: number }>()
const emit = defineEmits<{ pick: [cylinder: number] }>()

const box = useTemplateRef<HTMLElement>('box')
const { width } = useElementSize(box)
const left = 44
const right = 76

const time = computed(() => times(props.page))
// Where a cylinder is on its way somewhere, the axis goes on as far as its fan, but no further than half of what has been.
const ahead = computed(() => {
  const fans = props.page.tests.at(-1)?.verdict.cylinders.flatMap((c) => c.fan ?? []) ?? []
  if (!time.value.byMeter || fans.length === 0) return 0
  const [from, to] = [min(time.value.at)!, max(time.value.at)!]
  return Math.min(
    max(fans, (f) => f.ahead_meter)!,
    to + 0.35 * (to - from),
  )
})
const x = computed(() =>
  scaleLinear()
    .domain([min(time.value.at) ?? 0, Math.max(max(time.value.at) ?? 1, ahead.value)])
    .range([left + 14, Math.max(width.value - right, left + 60)]),
)

/** Each strip: first what all did together, then each cylinder. */
const strips = computed(() => {
  const cylinders = props.page.bores.map((b) => b.cylinder)
  return [0, ...cylinders].map((cylinder) => {
    const points = props.page.tests.flatMap((test, i) => {
      const own = test.verdict.cylinders.find((c) => c.cylinder === cylinder)
      const change = cylinder === 0 ? test.verdict.common_change_pct : own?.compression_change_pct
      const read = cylinder === 0 ? test.verdict.cylinders.length > 0 : own !== undefined
      if (!read) return []
      const se = (cylinder === 0 ? test.verdict.common_change_se_pct : own?.compression_change_se_pct) ?? undefined
      return [
        {
          at: time.value.at[i]!,
          change: change ?? 0,
          se,
          state: own?.state ?? 'steady',
          cold: test.conditions?.engine_temp === 'cold',
        },
      ]
    })
    const fan = time.value.byMeter
      ? props.page.tests.at(-1)?.verdict.cylinders.find((c) => c.cylinder === cylinder)?.fan
      : undefined
    return { cylinder, points, fan, band: 2 * (median(points, (p) => p.se) ?? 1.2) }
  })
})

// How far the strips reach above and below the baseline: what is lost needs the room.
const above = computed(
  () => Math.max(4, ...strips.value.flatMap((s) => [s.band, ...s.points.map((p) => p.change)])) * 1.15,
)
const reach = computed(() => {
  const all = strips.value.flatMap((s) => [s.band, ...s.points.map((p) => -p.change)])
  const fans = strips.value.flatMap((s) => (s.fan ? [Math.abs(fanEnd(s.fan).low)] : []))
  const far = Math.max(6, ...all) * 1.15
  return Math.max(far, Math.min(1.3 * far, ...(fans.length ? fans : [0])))
})
const height = computed(() => (strips.value.length > 7 ? 54 : 78))
const y = computed(() =>
  scaleLinear()
    .domain([above.value, -reach.value])
    .range([4, height.value - 4]),
)
const path = line<{ at: number; change: number }>(
  (p) => x.value(p.at),
  (p) => y.value(p.change),
)
/** Where a fan ends, and between which two changes: at the end of the axis, or where it leaves its strip. */
function fanEnd(f: Schemas['Fan'], deepest = Infinity) {
  const along = (ahead.value - f.meter) / (f.ahead_meter - f.meter)
  const down = (deepest + f.change_pct) / (f.change_pct - f.low_pct)
  const share = Math.max(0.05, Math.min(1, along, down))
  const to = (change: number) => f.change_pct + share * (change - f.change_pct)
  return { at: f.meter + share * (f.ahead_meter - f.meter), low: to(f.low_pct), high: to(f.high_pct) }
}
function fanOf(f: Schemas['Fan']): string {
  const end = fanEnd(f, reach.value)
  return `M${x.value(f.meter)} ${y.value(f.change_pct)}L${x.value(end.at)} ${y.value(end.low)}V${y.value(end.high)}Z`
}
const last = (s: (typeof strips.value)[number]) => s.points.at(-1)
</script>

<template>
  <section ref="box" aria-label="Compression against its baseline">
    <header class="flex flex-wrap items-baseline gap-x-4 text-[0.9rem]">
      <h2 class="font-semibold">Compression against its baseline</h2>
      <p class="text-soft">band: within the gauge’s doubt<template v-if="ahead">; fan: where it is going</template></p>
      <p class="ml-auto flex items-center gap-1.5 text-soft">
        <span class="size-2.5 rounded-full border border-ink" aria-hidden="true" /> cold
      </p>
    </header>
    <svg v-if="width > 0" :width="width" :height="strips.length * height + 54" class="block" role="group">
      <g v-for="rule in time.rules" :key="rule.words + rule.at">
        <line
          :x1="x(rule.at)"
          :x2="x(rule.at)"
          y1="20"
          :y2="strips.length * height + 22"
          class="stroke-verdigris"
          stroke-dasharray="1.5 3.5"
        />
        <text :x="ruleOf(x(rule.at), width, rule.words)" y="15" class="fill-verdigris text-[13px]">
          {{ rule.words }}
        </text>
      </g>
      <g
        v-for="(s, i) in strips"
        :key="s.cylinder"
        :transform="`translate(0 ${i * height + 20})`"
        class="cursor-pointer"
        @click="s.cylinder && emit('pick', s.cylinder)"
      >
        <rect
          x="0"
          y="0"
          :width="width"
          :height="height"
          :class="s.cylinder && current === s.cylinder ? 'fill-verdigris-pale/50' : 'fill-transparent'"
        />
        <rect
          :x="left + 14"
          :width="Math.max(width - left - right, 0)"
          :y="y(s.band)"
          :height="y(-s.band) - y(s.band)"
          class="fill-verdigris-pale"
        />
        <line :x1="left" :x2="width" :y1="height" :y2="height" class="stroke-track" />
        <text
          x="14"
          :y="y(0) + 6"
          class="fill-ink font-semibold"
          :class="s.cylinder ? 'text-[18px]' : 'text-[14px]'"
          text-anchor="middle"
        >
          {{ s.cylinder || 'all' }}
        </text>
        <path v-if="s.fan" :d="fanOf(s.fan)" class="fill-watch/45" data-fan />
        <path :d="path(s.points) ?? ''" class="fill-none stroke-ink" stroke-width="1.2" />
        <circle
          v-for="p in s.points"
          :key="p.at"
          :cx="x(p.at)"
          :cy="y(p.change)"
          :r="filled(p.state) ? 5 : 3.4"
          stroke-width="1.3"
          :class="{
            'fill-paper stroke-ink': p.cold && !filled(p.state),
            'fill-ink stroke-ink': !p.cold && !filled(p.state),
            'fill-watch stroke-watch': p.state === 'watch',
            'fill-act stroke-act': p.state === 'act',
            'fill-stop stroke-stop': p.state === 'stop',
          }"
        />
        <text
          v-if="last(s)"
          :x="width"
          :y="y(0) + 6"
          text-anchor="end"
          class="figures text-[13px]"
          :class="filled(last(s)!.state) ? 'fill-ink font-semibold' : 'fill-soft'"
        >
          {{ signed(last(s)!.change) }} %
        </text>
      </g>
      <text
        v-for="tick in x.ticks(Math.min(6, width / 110))"
        :key="tick"
        :x="x(tick)"
        :y="strips.length * height + 44"
        text-anchor="middle"
        class="figures fill-soft text-[12px]"
      >
        {{ time.label(tick) }}
      </text>
    </svg>
  </section>
</template>
