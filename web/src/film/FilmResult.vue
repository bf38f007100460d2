<script setup lang="ts">
import { computed, defineAsyncComponent, onBeforeUnmount, watch, ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { PressureUnit } from '@/composables/figure'
import { turned } from '@/composables/measures'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/film.json'
import SlowMotion from './SlowMotion.vue'
import type { Point } from './useFilm'

const says = sayer(texts)

/** What a film came to: the figure, the picture that it was read from with the needle's line on it, the curve. */
const props = defineProps<{
  found: Schemas['FilmFound']
  unit: PressureUnit
  picture?: Blob
  size: { w: number; h: number }
  /** The figure goes into a field, and is saved with what else is there. */
  field: boolean
}>()
const emit = defineEmits<{ save: []; again: []; point: [seconds: number, at: Point] }>()
const figure = defineModel<string>({ required: true })
const slower = defineModel<number>('slower', { required: true })
// The chart comes with the film that needs it.
const TraceChart = defineAsyncComponent(() => import('@/sheet/TraceChart.vue'))

const url = ref('')
const forget = () => url.value && URL.revokeObjectURL(url.value)
watch(
  () => props.picture,
  (is) => {
    forget()
    url.value = is ? URL.createObjectURL(is) : ''
  },
  { immediate: true },
)
onBeforeUnmount(forget)

const line = computed(() => {
  const far = (s: Schemas['FilmSight']) => Math.abs(s.t - props.found.top)
  return [...(props.found.sights ?? [])].sort((a, b) => far(a) - far(b))[0]
})
/** The line is dragged onto the needle where it wasn't seen right; the figure follows. */
const dragged = ref<Point>()
let held = false
function drag(event: PointerEvent) {
  const on = event.currentTarget as SVGElement
  if (event.type === 'pointerdown') held = true
  if (event.type === 'pointerup') held = false
  if (event.type === 'pointerdown') on.setPointerCapture(event.pointerId)
  if (!held || !line.value || faces.value.length === 3) return
  const box = on.getBoundingClientRect()
  const { w, h } = props.size
  dragged.value = [((event.clientX - box.left) / box.width) * w, ((event.clientY - box.top) / box.height) * h]
  emit('point', line.value.t, dragged.value)
}
const to = computed(() => dragged.value ?? line.value?.to)
const drawn = computed(() => (props.found.points ?? []).map((p) => turned(p, 'kPa', props.unit)))
const faces = computed(() => props.found.pulls?.filter((p) => p.face).map((p) => p.value) ?? [])
</script>

<template>
  <div>
    <p class="mt-2 text-2xl font-semibold" data-film-found>
      {{
        faces.length === 3
          ? `${faces.join(' · ')} ${unit}`
          : found.value === undefined
            ? says('found-nothing')
            : says('found', { value: found.value, unit, sd: rounded(found.camera_sd ?? 0, 2) })
      }}
    </p>
    <p v-if="found.trace" class="text-lg">{{ found.trace.why }}</p>
    <p v-if="found.slowed" class="text-lg" data-film-slowed>{{ found.slowed }}</p>
    <p v-if="found.hides" class="mt-1 text-soft">{{ found.hides }}</p>
    <div class="mt-3 gap-4 sm:flex">
      <svg
        v-if="url"
        :viewBox="`0 0 ${size.w} ${size.h}`"
        class="w-full max-w-64 shrink-0 cursor-grab touch-none self-start select-none"
        role="img"
        :aria-label="says('picture-needle')"
        data-film-picture
        @pointerdown="drag"
        @pointermove="drag"
        @pointerup="drag"
      >
        <image :href="url" :width="size.w" :height="size.h" />
        <line
          v-if="line && to"
          :x1="line.from[0]"
          :y1="line.from[1]"
          :x2="to[0]"
          :y2="to[1]"
          class="stroke-act"
          :stroke-width="size.w / 120"
        />
      </svg>
      <div class="min-w-0 grow">
        <TraceChart v-if="found.trace" :trace="found.trace" :points="drawn" :words="found.trace.why" />
        <p class="text-soft">{{ says(faces.length === 3 ? 'needle-there' : 'needle-here') }}</p>
        <SlowMotion v-if="found.kind !== 'still'" v-model="slower" />
      </div>
    </div>
    <div class="sticky -bottom-6 mt-4 flex flex-wrap items-end gap-3 bg-sheet py-3">
      <label v-if="faces.length !== 3" class="text-soft"
        >{{ says('reading') }}
        <input v-model="figure" class="field figures w-28" inputmode="decimal" autocomplete="off" data-film-figure
      /></label>
      <button class="button-main min-h-12 px-6" data-film-save @click="emit('save')">
        {{
          faces.length === 3
            ? says('save-faces', { faces: faces.join(', '), unit })
            : says(field ? 'put-in-field' : 'save', { value: figure, unit })
        }}
      </button>
      <button class="button-plain min-h-12" @click="emit('again')">{{ says('try-again') }}</button>
    </div>
  </div>
</template>
