<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { figureOf } from '@/composables/figure'
import UnitSelect from '@/sheet/UnitSelect.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/film.json'
import { rememberedMarks, type Remembered } from './remembered'
import type { Marks, Point } from './useFilm'

const says = sayer(texts)

/** The first picture of a film, on which the axis, the beginning of the scale and a figure or two are tapped. */
const props = defineProps<{
  picture: string
  width: number
  height: number
  unit: string
  gauge: string
  does: string
  /** The marks as the dial had them before, where it was found in the picture. */
  known?: Marks
}>()
/** By hand says that somebody tapped the marks, not that they were found. */
const emit = defineEmits<{ marked: [marks: Marks, byHand: boolean]; middle: [Point] }>()

const before: Remembered = rememberedMarks(props.gauge)
const unit = ref((before.unit ?? props.unit) as 'psi')
const centre = ref<Point>()
const points = ref<Point[]>([])
const figures = ref<string[]>(before.figures ?? ['0', ''])
const fault = ref('')
/** They are as they were found, until somebody taps. */
const found = ref(false)
watch(
  () => props.known,
  (is) => {
    // Who has gone on tapping meanwhile is not interrupted.
    if (!is || points.value.length) return
    centre.value = is.centre
    points.value = is.points.map((p) => p.at)
    figures.value = is.points.map((p) => String(p.value))
    unit.value = is.unit as 'psi'
    found.value = true
  },
  { immediate: true },
)

const asks = computed(() => {
  if (found.value) return says('known-dial')
  if (!centre.value) return says('tap-axis')
  if (!points.value.length) return says('tap-first')
  return points.value.length === 1 ? says('tap-figure') : says('tap-more')
})
/** Two marks do; up to five are taken. */
const enough = computed(() => points.value.length > 1)

function tap(event: MouseEvent) {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const at: Point = [
    ((event.clientX - box.left) / box.width) * props.width,
    ((event.clientY - box.top) / box.height) * props.height,
  ]
  fault.value = ''
  if (found.value) again()
  if (!centre.value) {
    centre.value = at
    emit('middle', at)
  } else if (points.value.length < 5) {
    points.value = [...points.value, at]
    if (figures.value.length < points.value.length) figures.value.push('')
  }
}
function again() {
  if (found.value) {
    found.value = false
    centre.value = undefined
    points.value = []
  } else if (points.value.length) points.value = points.value.slice(0, -1)
  else centre.value = undefined
}
function done() {
  const values = points.value.map((_, i) => figureOf((figures.value[i] ?? '').trim()))
  if (values.some((v) => v === undefined || Number.isNaN(v))) {
    fault.value = says('figure-missing')
    return
  }
  rememberedMarks(props.gauge, { unit: unit.value, figures: figures.value.slice(0, points.value.length) })
  const marks = {
    centre: centre.value!,
    points: points.value.map((at, i) => ({ at, value: values[i]! })),
    unit: unit.value,
  }
  emit('marked', marks, !found.value)
}
const percent = (at: Point) => ({ cx: at[0], cy: at[1] })
</script>

<template>
  <div data-dial-marks>
    <p class="min-h-14 text-xl font-semibold sm:min-h-0" aria-live="polite" data-mark-asks>{{ asks }}</p>
    <div class="mt-2 gap-4 sm:flex">
      <svg
        :viewBox="`0 0 ${width} ${height}`"
        class="max-h-[55svh] w-full max-w-xl cursor-crosshair touch-none bg-track select-none"
        role="img"
        :aria-label="says('picture-first')"
        data-mark-picture
        @click="tap"
      >
        <image :href="picture" :width="width" :height="height" />
        <g v-if="centre" class="stroke-verdigris" fill="none" :stroke-width="width / 150">
          <circle v-bind="percent(centre)" :r="width / 30" />
          <line
            v-for="(p, i) in points"
            :key="i"
            :x1="centre[0] + (p[0] - centre[0]) * 0.8"
            :y1="centre[1] + (p[1] - centre[1]) * 0.8"
            :x2="p[0]"
            :y2="p[1]"
          />
          <circle v-for="(p, i) in points" :key="`c${i}`" v-bind="percent(p)" :r="width / 60" />
        </g>
        <g v-if="found" class="fill-verdigris stroke-sheet [paint-order:stroke]" :font-size="width / 22">
          <text
            v-for="(p, i) in points"
            :key="i"
            :x="p[0]"
            :y="p[1] - width / 40"
            text-anchor="middle"
            :stroke-width="width / 120"
          >
            {{ figures[i] }}
          </text>
        </g>
      </svg>
      <div class="mt-2 flex min-w-40 flex-wrap content-start items-end gap-3 sm:mt-0 sm:flex-col sm:items-start">
        <label v-for="(_, i) in points" :key="i" class="text-soft"
          >{{ i === 0 ? says('beginning') : says('mark') }}
          <input
            v-model="figures[i]"
            class="field figures w-24"
            inputmode="decimal"
            autocomplete="off"
            :aria-label="says('figure-of-mark', { n: i + 1 })"
            @keydown.enter.stop.prevent="done"
        /></label>
        <label v-if="points.length" class="text-soft">{{ says('unit') }} <UnitSelect v-model="unit" /></label>
      </div>
    </div>
    <p v-if="fault" class="mt-2 font-semibold text-act dark:text-ink" role="alert">{{ fault }}</p>
    <div class="mt-3 flex flex-wrap gap-3">
      <button v-if="enough" class="button-main min-h-12 px-6" data-marked @click="done">{{ does }}</button>
      <button v-if="centre" class="button-plain min-h-12" @click="again">{{ says('again') }}</button>
      <slot />
    </div>
  </div>
</template>
