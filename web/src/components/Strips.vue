<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import StripRow from './StripRow.vue'
import StripsReadOut from './StripsReadOut.vue'
import StripsTable from './StripsTable.vue'
import { axisOf, behindOf, heightOf, risesIn, setRules, visitWords, wordsOf, type Point } from './strips'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

const props = defineProps<{ page: Schemas['EnginePage']; current?: number }>()
const emit = defineEmits<{ pick: [cylinder: number] }>()
const router = useRouter()

const strips = computed(() => props.page.strips)
const rotary = computed(() => props.page.engine.kind === 'rotary')
const unit = computed(() => props.page.engine.meter_unit ?? '')
const box = useTemplateRef<HTMLElement>('box')
const { width } = useElementSize(box)
const left = 46
const right = 74

// What is looked at: all, or one season or build by itself; by the meter where it rises, or by the date.
const byDate = ref(false)
const picked = ref<number | 'all'>()
/** Of several builds the last one, until something else is picked. */
const span = computed({
  get: () => picked.value ?? builds.value.at(-1)?.i ?? 'all',
  set: (value) => (picked.value = value),
})
const behind = ref('')
const axis = computed(() =>
  axisOf(strips.value, { byMeter: !byDate.value, span: span.value === 'all' ? undefined : span.value }, unit.value),
)
const canMeter = computed(() => risesIn(strips.value, axis.value.shown))
const seasons = computed(() => strips.value.spans.flatMap((s, i) => (s.kind === 'season' ? [{ ...s, i }] : [])))
const builds = computed(() => strips.value.spans.flatMap((s, i) => (s.kind === 'build' ? [{ ...s, i }] : [])))
const build = computed(() => builds.value.find((b) => b.i === span.value))
const olds = computed(() => builds.value.filter((b) => build.value && b.id !== build.value.id))
watch(span, () => (behind.value = ''))

const x = computed(() => {
  const { from, to } = axis.value
  return scaleLinear()
    .domain([from, Math.max(to, ahead.value, from + 1e-6)])
    .range([left + 12, Math.max(width.value - right, left + 60)])
})
const last = computed(() => axis.value.shown.includes(strips.value.visits.length - 1))
/** Where a cylinder is on its way somewhere, the axis goes on as far as its fan, but no further than a fifth of what has been. */
const ahead = computed(() => {
  const fans = strips.value.strips.flatMap((s) => (s.fan && last.value ? [s.fan.ahead_meter] : []))
  const { from, to, byMeter } = axis.value
  return byMeter && fans.length ? Math.min(Math.max(...fans), to + 0.2 * (to - from)) : 0
})

/** Each strip as it is drawn: first what all did together, then each cylinder; of each the points that are shown. */
const drawn = computed(() =>
  (strips.value.strips.length > 1 ? [strips.value.all, ...strips.value.strips] : strips.value.strips).map((s) => {
    const points = s.points.filter((p) => axis.value.at.has(p.visit))
    const runs: Point[][] = []
    for (const p of points.filter((p) => !p.faint && p.change_pct !== undefined)) {
      const before = runs.at(-1)?.at(-1)
      const same = before && strips.value.visits[before.visit]!.build === strips.value.visits[p.visit]!.build
      if (same) runs.at(-1)!.push(p)
      else runs.push([p])
    }
    return { ...s, points, runs, last: points.filter((p) => !p.faint).at(-1) }
  }),
)

// How far the strips reach above and below the baseline: what is lost needs the room; what lost more than that stands at the bottom.
const deepest = 24
const above = computed(
  () =>
    1.2 *
    Math.min(15, Math.max(4, ...drawn.value.flatMap((s) => [s.band_pct, ...s.points.map((p) => p.change_pct ?? 0)]))),
)
const reach = computed(
  () =>
    1.15 *
    Math.min(
      deepest,
      Math.max(6, ...drawn.value.flatMap((s) => [s.band_pct, ...s.points.map((p) => -(p.change_pct ?? 0))])),
    ),
)
const height = computed(() => heightOf(strips.value.strips.length))
const y = computed(() =>
  scaleLinear()
    .domain([above.value, -reach.value])
    .range([5, height.value * 0.74])
    .clamp(true),
)
const at = (p: Point) => x.value(axis.value.at.get(p.visit)!)
const laid = computed(() =>
  behind.value ? behindOf(strips.value, axis.value, behind.value) : new Map<number, number>(),
)
function behindPath(s: (typeof drawn.value)[number]): string {
  const all = [strips.value.all, ...strips.value.strips].find((o) => o.cylinder === s.cylinder)!
  const points = all.points.filter((p) => laid.value.has(p.visit) && p.change_pct !== undefined && !p.faint)
  return (
    line<Point>(
      (p) => Math.min(x.value(laid.value.get(p.visit)!), width.value - right),
      (p) => y.value(p.change_pct!),
    )(points) ?? ''
  )
}

/** A fan ends at the end of the axis, or where it leaves its strip. */
function fanOf(f: Schemas['Fan']): string {
  const along = (ahead.value - f.meter) / (f.ahead_meter - f.meter)
  const down = (reach.value + f.change_pct) / (f.change_pct - f.low_pct)
  const share = Math.max(0.05, Math.min(1, along, down))
  const to = (change: number) => y.value(f.change_pct + share * (change - f.change_pct))
  const end = x.value(f.meter + share * (f.ahead_meter - f.meter))
  return `M${x.value(f.meter)} ${y.value(f.change_pct)}L${end} ${to(f.low_pct)}V${to(f.high_pct)}Z`
}

const top = computed(() => (ruleWords.value.length ? 34 : 12))
const foot = computed(() => (seasonWords.value.length ? 40 : 26))
const rules = computed(() => axis.value.rules.map((r) => ({ ...r, x: x.value(r.at) })))
const seasonWords = computed(() => rules.value.filter((r) => r.kind === 'season'))
const ruleWords = computed(() =>
  setRules(
    rules.value.filter((r) => r.kind !== 'season'),
    width.value,
  ),
)
const dot = computed(() => Math.max(1.6, Math.min(3.6, (width.value - left - right) / axis.value.shown.length / 3)))
const stem = computed(() => Math.max(1.5, Math.min(8, (width.value - left - right) / axis.value.shown.length / 3)))

// One test is read out across all strips, by the pointer or by the arrow keys.
const read = ref<number>()
const shownAt = computed(() => (read.value === undefined ? -1 : axis.value.shown.indexOf(read.value)))
watch(axis, () => (read.value = undefined))
function point(event: PointerEvent) {
  const where = event.offsetX
  if (where < left || where > width.value - right + 20) return (read.value = undefined)
  const near = (i: number) => Math.abs(x.value(axis.value.at.get(i)!) - where)
  read.value = axis.value.shown.reduce((a, b) => (near(b) < near(a) ? b : a))
}
function key(event: KeyboardEvent) {
  const end = axis.value.shown.length - 1
  const to: Record<string, number> = {
    ArrowRight: shownAt.value < 0 ? end : Math.min(end, shownAt.value + 1),
    ArrowLeft: shownAt.value < 0 ? end : Math.max(0, shownAt.value - 1),
    Home: 0,
    End: end,
  }
  if (event.key in to) read.value = axis.value.shown[to[event.key]!]
  else if (event.key === 'Escape' && read.value !== undefined) read.value = undefined
  else if (event.key === 'Enter' && read.value !== undefined) open()
  else return
  event.preventDefault()
}
function open() {
  const v = strips.value.visits[read.value!]!
  if (!v.struck) void router.push(`/engines/${props.page.engine.id}/tests/${encodeURIComponent(v.id)}/findings`)
}
/** The read-out as a screen reader says it. */
const said = computed(() => {
  if (read.value === undefined) return says('arrow-keys-step-through-tests')
  const cells = drawn.value.flatMap((s) => {
    const p = s.points.find((p) => p.visit === read.value)
    return p ? [`${s.cylinder ? s.called : 'all'}: ${wordsOf(p)}`] : []
  })
  return [visitWords(strips.value.visits[read.value]!, unit.value), ...cells].join('. ')
})
/** Where the axis is labelled; a stretch of one day has one label. */
const ticks = computed(() =>
  x.value
    .ticks(Math.max(2, Math.min(6, width.value / 120)))
    .filter((t, i, all) => i === 0 || axis.value.label(t) !== axis.value.label(all[i - 1]!)),
)
</script>

<template>
  <section ref="box" :aria-label="says('compression-leak-over-time')" class="min-w-0" data-strips>
    <header class="flex flex-wrap items-center gap-x-4 gap-y-1 text-[0.9rem]">
      <h2 class="font-semibold">
        {{ says('every-test', { cylinder: rotary ? says('rotor-rotor') : says('cylinder-cylinder') }) }}
      </h2>
      <p class="flex flex-wrap items-center gap-x-1 print:hidden sm:ml-auto">
        <template v-if="canMeter && unit">
          <button class="choice min-h-11 px-2" :aria-pressed="!byDate" @click="byDate = false">
            {{ says('by', { unit }) }}
          </button>
          <button class="choice min-h-11 px-2" :aria-pressed="byDate" @click="byDate = true">
            {{ says('date-2') }}
          </button>
        </template>
        <label v-if="strips.spans.length" class="flex items-center">
          <span class="sr-only">{{ says('show') }}</span>
          <select v-model="span" class="field min-h-11 w-auto max-w-48">
            <option value="all">{{ says('all') }}</option>
            <optgroup v-if="seasons.length" :label="says('season')">
              <option v-for="s in seasons" :key="s.i" :value="s.i">{{ says('season-2', { name: s.name }) }}</option>
            </optgroup>
            <optgroup v-if="builds.length" :label="says('build')">
              <option v-for="b in builds" :key="b.i" :value="b.i">{{ b.name }}</option>
            </optgroup>
          </select>
        </label>
        <label v-if="olds.length" class="flex items-center">
          <span class="sr-only">{{ says('show-behind') }}</span>
          <select v-model="behind" class="field min-h-11 w-auto max-w-48">
            <option value="">{{ says('no-other-build') }}</option>
            <option v-for="b in olds" :key="b.id" :value="b.id">{{ says('behind', { name: b.name }) }}</option>
          </select>
        </label>
      </p>
      <p class="basis-full text-soft">
        {{ says('compression-with-measuring-error-as') }}
        <template v-if="rotary">{{ says('ticks-faces') }} </template>{{ says('stems-leak-third-strip-20')
        }}<template v-if="ahead"> {{ says('fan-where-heading') }}</template>
      </p>
    </header>
    <div
      v-if="width > 0 && axis.shown.length"
      class="relative mt-1 outline-offset-0"
      role="slider"
      tabindex="0"
      :aria-label="says('tests')"
      aria-valuemin="1"
      :aria-valuemax="axis.shown.length"
      :aria-valuenow="shownAt < 0 ? axis.shown.length : shownAt + 1"
      :aria-valuetext="said"
      @keydown="key"
      @blur="read = undefined"
    >
      <svg
        :width="width"
        :height="drawn.length * height + top + foot"
        :viewBox="`0 0 ${width} ${drawn.length * height + top + foot}`"
        class="block h-auto max-w-full touch-pan-y"
        aria-hidden="true"
        @pointermove="point"
        @pointerdown="point"
        @pointerleave="read = undefined"
        @dblclick="read !== undefined && open()"
      >
        <g v-for="rule in rules" :key="rule.kind + rule.words + rule.at">
          <line
            :x1="rule.x"
            :x2="rule.x"
            :y1="top - 14"
            :y2="drawn.length * height + top"
            :class="rule.kind === 'season' ? 'stroke-rule' : 'stroke-verdigris'"
            :stroke-dasharray="rule.kind === 'build' ? undefined : '1.5 3.5'"
            :stroke-width="rule.kind === 'build' ? 1.6 : 1"
          />
        </g>
        <text
          v-for="w in seasonWords"
          :key="w.words"
          :x="w.x + 4"
          :y="drawn.length * height + top + 36"
          class="figures fill-soft text-[12px]"
        >
          {{ w.words }}
        </text>
        <text
          v-for="w in ruleWords"
          :key="w.words + w.x"
          :x="w.x"
          :y="13 + w.row * 14"
          class="fill-verdigris text-[13px]"
        >
          {{ w.words }}
        </text>
        <rect
          v-if="read !== undefined"
          :x="x(axis.at.get(read)!) - 9"
          :y="top - 12"
          width="18"
          :height="drawn.length * height + 12"
          class="fill-sheet stroke-verdigris"
        />
        <g
          v-for="(s, i) in drawn"
          :key="s.cylinder"
          :transform="`translate(0 ${i * height + top})`"
          :data-strip="s.cylinder || 'all'"
          :class="{ 'cursor-pointer': s.cylinder }"
          @click="s.cylinder && emit('pick', s.cylinder)"
        >
          <StripRow
            :strip="s"
            :height="height"
            :left="left"
            :width="width"
            :end="x(axis.to)"
            :at="at"
            :y="y"
            :dot="dot"
            :stem="stem"
            :current="s.cylinder > 0 && current === s.cylinder"
            :cold="(p) => strips.visits[p.visit]!.temp === 'cold'"
            :fan="s.fan && ahead ? fanOf(s.fan) : undefined"
            :behind="behind ? behindPath(s) : undefined"
          />
        </g>
        <text
          v-for="tick in ticks"
          :key="tick"
          :x="x(tick)"
          :y="drawn.length * height + top + 20"
          text-anchor="middle"
          class="figures fill-soft text-[12px]"
        >
          {{ axis.label(tick) }}
        </text>
      </svg>
      <StripsReadOut
        v-if="read !== undefined"
        :visit="strips.visits[read]!"
        :unit="unit"
        :strips="drawn"
        :at="read"
        :x="x(axis.at.get(read)!)"
        :width="width"
      />
    </div>
    <StripsTable :strips="drawn" :visits="strips.visits" :shown="axis.shown" :unit="unit" />
  </section>
</template>
