<script setup lang="ts">
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

import { rounded } from '@/words/say'
import { computed } from 'vue'
import { signed } from '@/composables/useFormat'
import { filled } from './state'
import { placeOfAir, visitWords, type Point, type Visit } from './strips'

/** One test, read out beside the place where it stands on the strips. */
const props = defineProps<{
  visit: Visit
  unit: string
  at: number
  x: number
  width: number
  strips: { cylinder: number; called: string; points: Point[] }[]
}>()

const cells = computed(() =>
  props.strips.flatMap((s) => {
    const point = s.points.find((p) => p.visit === props.at)
    return point ? [{ called: s.cylinder ? String(s.cylinder) : 'all', point }] : []
  }),
)
const beside = computed(() =>
  props.x < props.width / 2 ? { left: `${props.x + 16}px` } : { right: `${props.width - props.x + 16}px` },
)
</script>

<template>
  <div
    class="pointer-events-none z-10 border border-verdigris bg-sheet px-3 py-2 text-[0.9rem] max-sm:fixed max-sm:inset-x-0 max-sm:bottom-0 max-sm:max-h-[45dvh] max-sm:overflow-hidden sm:absolute sm:top-8 sm:max-w-96"
    :style="width < 600 ? {} : beside"
    data-readout
  >
    <p class="font-semibold">{{ visitWords(visit, unit) }}</p>
    <dl class="mt-1 grid gap-x-4" :class="cells.length > 9 ? 'grid-cols-2' : ''">
      <div
        v-for="c in cells"
        :key="c.called"
        class="figures flex gap-x-2 whitespace-nowrap"
        :class="[filled(c.point.state) ? 'font-semibold' : '', c.point.faint ? 'text-soft' : '']"
      >
        <dt class="w-7 shrink-0 font-semibold">{{ c.called }}</dt>
        <dd v-if="c.point.reading" class="w-16 shrink-0 text-right">{{ c.point.reading }}</dd>
        <dd class="w-14 shrink-0 text-right">
          {{ c.point.baseline ? says('base') : c.point.change_pct === undefined ? '' : signed(c.point.change_pct) }}
        </dd>
        <dd v-if="c.point.leak_pct !== undefined" class="w-10 shrink-0 text-right">
          {{ rounded(c.point.leak_pct, 0) }} %
        </dd>
        <dd v-if="placeOfAir(c.point)" class="font-sans">{{ placeOfAir(c.point) }}</dd>
      </div>
    </dl>
  </div>
</template>
