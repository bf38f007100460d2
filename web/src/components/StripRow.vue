<script setup lang="ts">
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

import { rounded } from '@/words/say'
import { line } from 'd3-shape'
import { computed } from 'vue'
import { signed } from '@/composables/useFormat'
import { filled } from './state'
import { letterOf, stemOf, type Point } from './strips'

/** One strip: the band of the measuring, the line of compression, the stems of the leak with where it was heard. */
const props = defineProps<{
  strip: { cylinder: number; band_pct: number; points: Point[]; runs: Point[][]; last?: Point }
  height: number
  left: number
  width: number
  /** Where the last test stands. */
  end: number
  at: (p: Point) => number
  y: (change: number) => number
  dot: number
  stem: number
  current: boolean
  cold: (p: Point) => boolean
  fan?: string
  behind?: string
}>()
const path = computed(() => line<Point>(props.at, (p) => props.y(p.change_pct!)))
</script>

<template>
  <rect
    x="0"
    y="1"
    :width="width"
    :height="height - 2"
    :class="current ? 'fill-verdigris-pale/45' : 'fill-transparent'"
  />
  <rect
    :x="left + 6"
    :width="Math.max(end - left, 0)"
    :y="y(strip.band_pct)"
    :height="y(-strip.band_pct) - y(strip.band_pct)"
    class="fill-verdigris-pale"
  />
  <line :x1="left" :x2="width" :y1="height" :y2="height" class="stroke-track" />
  <text
    x="20"
    :y="height / 2 + 6"
    class="fill-ink font-semibold"
    :class="strip.cylinder ? 'text-[19px]' : 'text-[14px]'"
    text-anchor="middle"
  >
    {{ strip.cylinder || says('all-2') }}
  </text>
  <path v-if="fan" :d="fan" class="fill-watch/45" data-fan />
  <path v-if="behind" :d="behind" class="fill-none stroke-soft" stroke-width="1.1" stroke-dasharray="5 3" data-behind />
  <g v-for="p in strip.points" :key="p.visit" :opacity="p.faint ? 0.4 : 1">
    <template v-if="p.leak_pct !== undefined">
      <line
        v-if="p.first_leak_pct !== undefined"
        :x1="at(p)"
        :x2="at(p)"
        :y1="height - stemOf(p.first_leak_pct, height)"
        :y2="height"
        class="stroke-soft"
        :stroke-width="stem / 2"
        opacity="0.5"
      />
      <rect
        :x="at(p) - stem / 2"
        :y="height - stemOf(p.leak_pct, height)"
        :width="stem"
        :height="stemOf(p.leak_pct, height)"
        :class="{
          'fill-steady': !filled(p.state),
          'fill-watch': p.state === 'watch',
          'fill-act': p.state === 'act',
          'fill-stop': p.state === 'stop',
        }"
        data-stem
      />
      <text
        v-if="letterOf(p) && stem > 2"
        :x="at(p) + stem / 2 + 2"
        :y="height - 3"
        class="figures fill-ink text-[12px] font-semibold"
      >
        {{ letterOf(p) }}
      </text>
    </template>
  </g>
  <path
    v-for="run in strip.runs"
    :key="run[0]!.visit"
    :d="path(run) ?? ''"
    class="fill-none stroke-ink"
    stroke-width="1.2"
  />
  <g v-for="p in strip.points" :key="p.visit" :opacity="p.faint ? 0.4 : 1">
    <template v-if="p.change_pct !== undefined">
      <line
        v-for="(face, i) in p.faces_pct"
        :key="i"
        :x1="at(p) - 6"
        :x2="at(p) + 6"
        :y1="y(face)"
        :y2="y(face)"
        class="stroke-ink"
        stroke-width="1.6"
        data-face
      />
      <circle
        v-if="p.outside && !filled(p.state)"
        :cx="at(p)"
        :cy="y(p.change_pct)"
        :r="dot + (dot > 2.4 ? 3 : 1.2)"
        class="fill-none stroke-ink"
        data-outside
      />
      <circle
        :cx="at(p)"
        :cy="y(p.change_pct)"
        :r="filled(p.state) ? dot + 1.4 : dot"
        stroke-width="1.3"
        :class="{
          'fill-paper': cold(p),
          'fill-ink': !cold(p) && !filled(p.state),
          'stroke-ink': !filled(p.state),
          'stroke-watch': p.state === 'watch',
          'stroke-act': p.state === 'act',
          'stroke-stop': p.state === 'stop',
          'fill-watch': p.state === 'watch' && !cold(p),
          'fill-act': p.state === 'act' && !cold(p),
          'fill-stop': p.state === 'stop' && !cold(p),
        }"
      />
    </template>
  </g>
  <template v-if="strip.last">
    <text
      :x="width"
      :y="strip.last.leak_pct === undefined ? height / 2 + 5 : height * 0.42"
      text-anchor="end"
      class="figures text-[13px]"
      :class="filled(strip.last.state) ? 'fill-ink font-semibold' : 'fill-soft'"
    >
      {{ strip.last.change_pct === undefined ? '' : `${signed(strip.last.change_pct)} %` }}
    </text>
    <text
      v-if="strip.last.leak_pct !== undefined"
      :x="width"
      :y="height - 7"
      text-anchor="end"
      class="figures text-[13px]"
      :class="filled(strip.last.state) ? 'fill-ink font-semibold' : 'fill-soft'"
    >
      {{ rounded(strip.last.leak_pct, 0) }} %
    </text>
  </template>
</template>
