<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { api, ask, Refused } from '@/api/client'
import BorePlan from '@/components/BorePlan.vue'
import CrankWheel from '@/components/CrankWheel.vue'
import FigureInput from '@/components/FigureInput.vue'
import GaugeAsking from '@/components/GaugeAsking.vue'
import KeyCap from '@/components/KeyCap.vue'
import { figureOf, noFigure, pressureUnits, typedOn, unitAfter, usualSupply } from '@/composables/figure'
import { latest } from '@/composables/latest'
import { useKeys } from '@/composables/useKeys'
import { useTyped } from '@/composables/useTyped'
import type { Work } from '@/composables/useSheet'
import { say, sound } from '@/composables/useSound'
import { drop } from '@/outbox/useOutbox'
import { boresOf } from './bores'
import KeyPad from './KeyPad.vue'
import LeakTable from './LeakTable.vue'
import PlaceButtons from './PlaceButtons.vue'
import MarkDialog from './MarkDialog.vue'
import { useGauge } from './useGauge'
import { useMarks } from './useMarks'
import { useSeat } from './useSeat'
import { usePlaces } from './usePlaces'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

type Path = Schemas['Path']
type Attempt = Schemas['Attempt']

const props = defineProps<{ work: Work }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const sheet = computed(() => props.work.sheet.value!)

/** What is half typed: the figures, the places that were heard, and the cylinder that they are of. */
const half = useTyped(props.work, 'leak', { held: '', supply: '', cylinder: 0, paths: null as Path[] | null })
const chosen = ref<number | undefined>(half.value.cylinder || undefined)
const supply = ref('')
const held = ref(half.value.held)
const field = ref<'supply' | 'held'>('held')
/** The supply was just turned to: the next digit of the pad begins it anew. */
const fresh = ref(false)
/** On a phone the places take the pad's room when they are asked for. */
const listening = ref(false)
const byPercent = ref(false)
const position = ref<'tdc' | 'swept' | 'bdc'>('tdc')
const asking = ref(false)
const heard = usePlaces(half.value.paths, () => cell.value.beside, asking)
const { paths, armed, place, nothing, louder, press } = heard
const fault = ref('')
/** Why what was typed was not kept; it stands until something else is typed. */
const refusal = ref('')
const preview = ref<Schemas['Preview']>()
const supplyField = useTemplateRef('supplyField')
const heldField = useTemplateRef('heldField')

const done = (c: number) => props.work.waiting('leakdown').some((e) => e.body.cylinder === c)
const current = computed(() => {
  if (chosen.value) return chosen.value
  const asked = sheet.value.leak_prompt.cylinder
  const order = sheet.value.leak.map((c) => c.cylinder)
  if (asked && !done(asked)) return asked
  const from = order.indexOf(asked)
  return (
    order
      .slice(from + 1)
      .find((c) => !done(c) && sheet.value.leak.find((x) => x.cylinder === c)!.leak_pct === undefined) ?? order.at(-1)!
  )
})
// While a figure or a place is being entered the cylinder stays, whatever news comes in.
watch(
  () => held.value !== '' || paths.value !== undefined,
  (entering) => entering && (chosen.value ??= current.value),
)
const cell = computed(() => sheet.value.leak.find((c) => c.cylinder === current.value)!)
const step = computed(() => sheet.value.wheel?.steps.findIndex((s) => s.cylinder === current.value) ?? -1)
const unit = ref<(typeof pressureUnits)[number]>('psi')
function inUnit(u: (typeof pressureUnits)[number]) {
  unit.value = u
  const last = sheet.value.leak.flatMap((c) => c.attempts).findLast((a) => a.unit === u)
  supply.value = last ? String(last.supply) : usualSupply[u]
}
watch(() => sheet.value.leak_unit, inUnit, { immediate: true })
if (half.value.supply) supply.value = half.value.supply
watch([held, paths, supply, chosen], () => {
  const some = held.value !== '' || paths.value !== undefined
  half.value = some
    ? { held: held.value, supply: supply.value, cylinder: current.value, paths: paths.value ?? null }
    : { held: '', supply: '', cylinder: 0, paths: null }
})

function body() {
  return {
    cylinder: current.value,
    supply: figureOf(supply.value)!,
    ...(byPercent.value ? { pct: figureOf(held.value) } : { held: figureOf(held.value) }),
    unit: unit.value,
    position: position.value,
    tester: sheet.value.session.kit,
    ...(paths.value ? { paths: paths.value } : {}),
  }
}

watchDebounced([supply, held, byPercent, unit], look, { debounce: 80 })
function look() {
  preview.value = undefined
  fault.value = ''
  const wrong = [supply.value, held.value].find((t) => Number.isNaN(figureOf(t)))
  if (held.value !== '' && supply.value !== '' && wrong !== undefined) fault.value = noFigure(wrong)
  return reckon(held.value !== '' && supply.value !== '' && wrong === undefined)
}
/** What it comes to, as it is typed. Nothing typed asks nothing, and an answer that is still on its way is for nobody. */
const reckon = latest(
  async (typed: boolean) => {
    if (!typed) return {}
    const { engine, session } = props.work
    try {
      const options = { params: { path: { engine, session } }, body: { ...body(), test: session } }
      return { preview: await ask(api.POST('/api/engines/{engine}/sessions/{session}/preview', options)) }
    } catch (error) {
      return error instanceof Refused ? { fault: error.message } : {}
    }
  },
  (came: { preview?: Schemas['Preview']; fault?: string }) => {
    preview.value = came.preview
    if (came.fault) fault.value = came.fault
  },
)

const focus = () => (field.value === 'supply' ? supplyField.value : heldField.value)?.focus()

/** Where to turn: what the sheet asks for, unless another was chosen. */
const next = computed(() => {
  const asked = sheet.value.leak_prompt
  return asked.cylinder === current.value || !asked.cylinder ? asked : { ...cell.value, turn_deg: undefined }
})
watch(() => next.value.say, say)

/** The crank is held: said by hand, and by the first figure that is typed. */
const holding = ref(false)
const kept = ref('')
watch(current, () => (holding.value = false))
useSeat(props.work, () => {
  const common = { cylinder: current.value, rotation: sheet.value.wheel?.rotation as 'clockwise' | undefined }
  if (sheet.value.leak_prompt.cylinder === 0 && held.value === '' && chosen.value === undefined)
    return { ...common, do: 'done', line: says('every-cylinder-has-leak-down', { kept: kept.value }).trim() }
  if (holding.value || held.value !== '') return { ...common, do: 'hold', line: says('air-hold-crank-stand-clear') }
  return { ...common, do: 'turn', turn_deg: next.value.turn_deg, line: next.value.say }
})

/** A tester that speaks: when supply and held pressure stand, they go into their fields; the place is for the ear. */
const live = useGauge(unit, true)
const air = computed(() => (live.speaks.value ? live.now.value : undefined))
watch(
  () => air.value?.phase === 'settled' && held.value === '' && sheet.value.session.open && air.value.pull,
  (pull) => pull && void takeAir(pull),
)
async function takeAir(pull: number) {
  chosen.value ??= current.value
  const took = await live.take(props.work.engine, chosen.value, pull)
  if (typeof took === 'string' || held.value !== '') return
  supply.value = String(took.supply ?? 0)
  held.value = String(took.held ?? 0)
  byPercent.value = false
  refusal.value = ''
  listening.value = true
  sound('kept')
}

async function keep() {
  if (field.value === 'supply') return toSupply()
  if (held.value === '') return sheet.value.leak_prompt.cylinder === 0 && emit('done')
  if (Number.isNaN(figureOf(held.value)) || fault.value) return
  if (paths.value === undefined && !asking.value) {
    asking.value = listening.value = true
    return
  }
  const entered = body()
  const typed = held.value
  clear()
  chosen.value = undefined
  const { is, answer, entry } = await props.work.enter('leakdown', entered)
  kept.value = is === 'refused' ? '' : says('read', { cylinder: entered.cylinder })
  sound(is === 'refused' ? 'look' : 'kept')
  // What is refused comes back into its field, marked; if another is being typed, it stays in the outbox.
  if (is !== 'refused' || held.value !== '') return
  held.value = typed
  paths.value = entered.paths
  chosen.value = entered.cylinder
  refusal.value = answer?.why ?? says('not-saved')
  await drop(entry.id)
}
function clear() {
  held.value = ''
  heard.clear()
  asking.value = listening.value = false
}

function digit(key: string) {
  refusal.value = ''
  if (armed.value && '123'.includes(key)) return louder(Number(key))
  armed.value = undefined
  if (field.value === 'supply') supply.value = typedOn(fresh.value ? '' : supply.value, key)
  else held.value = typedOn(held.value, key)
  fresh.value = false
}
function typeIn(event: KeyboardEvent) {
  digit(event.key)
  focus()
}
function back() {
  refusal.value = ''
  armed.value = undefined
  fresh.value = false
  if (field.value === 'supply') supply.value = supply.value.slice(0, -1)
  else held.value = held.value.slice(0, -1)
}
function at(which: 'supply' | 'held') {
  fresh.value = which === 'supply' && field.value !== 'supply'
  field.value = which
  if (fresh.value) supplyField.value?.select()
}
function toSupply() {
  if (field.value === 'supply') heldField.value?.focus()
  else supplyField.value?.focus()
}
/** A half-typed figure, or a place that was heard, stays with its cylinder. */
function move(by: number) {
  if (held.value !== '' || paths.value !== undefined) return
  const order = sheet.value.leak.map((c) => c.cylinder)
  chosen.value = order[(order.indexOf(current.value) + by + order.length) % order.length]
}
function leave() {
  if (held.value === '' && paths.value === undefined) emit('leave')
  else clear()
}
function turnPosition() {
  const all = ['tdc', 'swept', 'bdc'] as const
  position.value = all[(all.indexOf(position.value) + 1) % 3]!
}
const marks = useMarks(props.work, focus)
const called = (a: Attempt, cylinder: number) => says('cylinder-2', { leak: rounded(a.leak_pct, 1), cylinder })
function askStrike() {
  const row = cell.value.attempts.filter((a) => !a.struck && a.key).at(-1)
  if (row) marks.ask(row, called(row, current.value), current.value)
}
/** A leak-down that is pointed at may have been of any cylinder. */
function askOf(a: Attempt, cylinder: number) {
  const all = sheet.value.leak.map((c) => c.cylinder)
  marks.ask(a, called(a, cylinder), cylinder, all)
}

const placeOf = { c: 'crankcase', i: 'intake', e: 'exhaust', w: 'coolant', n: 'neighbour', p: 'plug_hole' } as const
useKeys([
  { keys: ['0…9'], does: says('held-pressure-right-after-place') },
  { keys: [...'0123456789.,'], does: '', run: typeIn },
  {
    keys: Object.keys(placeOf),
    does: says('air-at-oil-filler-intake'),
    run: (e) => place(placeOf[e.key as 'c']),
  },
  { keys: ['l'], does: says('listened-heard-nothing'), run: nothing },
  { keys: ['Enter'], does: says('save-next'), run: () => void keep() },
  { keys: [' '], does: says('tell-helper-hold-or-turn'), run: () => (holding.value = !holding.value) },
  { keys: ['s'], does: says('supply-back'), run: toSupply },
  { keys: ['%'], does: says('dial-shows-percent'), run: () => (byPercent.value = !byPercent.value) },
  { keys: ['u'], does: says('testers-unit'), run: () => inUnit(unitAfter(unit.value)) },
  { keys: ['b'], does: says('tdc-swept-bdc'), run: turnPosition },
  { keys: ['x'], does: says('strike-last-attempt-cylinder'), run: askStrike },
  { keys: ['Backspace'], does: says('delete-digit'), run: back },
  {
    keys: ['ArrowRight', 'ArrowDown'],
    does: says('next-cylinder-firing-order-empty'),
    run: () => move(1),
  },
  { keys: ['ArrowLeft', 'ArrowUp'], does: says('previous-cylinder'), run: () => move(-1) },
  { keys: ['Escape'], does: says('clear-what-typed-if-nothing'), run: leave },
])
onMounted(focus)
const bores = computed(() => boresOf(sheet.value))
const names = { tdc: says('at-tdc'), swept: says('swept-through-tdc'), bdc: says('at-bdc-rockers-off') }
</script>

<template>
  <div class="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-6 py-3 lg:grid-cols-[minmax(0,12fr)_minmax(0,7fr)]">
    <section
      :aria-label="says('leak-down')"
      class="min-w-0 max-lg:flex max-lg:min-h-[calc(100svh-8rem)] max-lg:flex-col"
    >
      <GaugeAsking :asking="live.asking.value" />
      <h2 class="text-xl leading-tight font-medium sm:text-2xl" aria-live="polite" data-prompt>
        {{ next.say }}
      </h2>
      <p class="border-l-4 border-watch pl-3 lg:hidden">
        {{ says('tools-off-crank-bolt-or') }}
      </p>
      <p class="text-soft max-lg:order-last max-lg:mt-3">
        {{ says('take-every-tool-off-crank', { push: sheet.wheel?.push }) }}
      </p>
      <p v-if="sheet.verdict.remark" role="status" class="mt-1 border-l-4 border-watch pl-3 text-lg" data-remark>
        {{ sheet.verdict.remark }}
      </p>
      <div v-if="sheet.wheel && step >= 0" class="mt-2 mr-6 w-60 max-lg:hidden lg:float-left">
        <CrankWheel :wheel="sheet.wheel" :step="step" />
      </div>
      <div class="mt-2 flex items-end gap-x-5 max-lg:order-first">
        <p class="figures text-[3.6rem] leading-none font-semibold sm:text-[6.5rem]" data-current>{{ current }}</p>
        <p class="min-w-0 text-lg leading-snug break-words text-soft sm:pb-2">
          <b v-if="cell.name" class="text-ink">{{ cell.name }}, </b>{{ cell.place }}<br />
          <template v-if="cell.baseline_pct !== undefined"
            >{{ says('baseline') }} <b class="figures text-ink">{{ rounded(cell.baseline_pct, 1) }}</b> %</template
          >
          <template v-if="cell.last_pct !== undefined"
            >{{ says('last') }} <b class="figures text-ink">{{ rounded(cell.last_pct, 1) }}</b> %</template
          >
        </p>
      </div>
      <div class="max-lg:sticky max-lg:bottom-0 max-lg:z-10 max-lg:mt-auto max-lg:bg-paper max-lg:pb-2" data-entry>
        <div class="flex max-w-xl items-end gap-3 pt-1 max-[20rem]:gap-1 max-[20rem]:text-sm sm:gap-5">
          <label class="min-w-0 basis-2/5">
            <span class="font-semibold">{{ says('in') }}</span>
            <FigureInput
              ref="supplyField"
              v-model="supply"
              :aria-label="says('supply', { unit })"
              class="border-b-3 text-[2.4rem] leading-tight max-[20rem]:text-2xl sm:text-5xl"
              :class="field === 'supply' ? 'border-verdigris' : 'border-rule'"
              @focus="at('supply')"
              @keydown="press"
              @typed="((fresh = false), (refusal = ''))"
              @unit="(u) => (unit = u)"
              @unread="(said) => (refusal = said)"
            />
          </label>
          <label class="min-w-0 basis-2/5">
            <span class="font-semibold">{{ byPercent ? says('leak-2', { current }) : says('held', { current }) }}</span>
            <FigureInput
              ref="heldField"
              v-model="held"
              :aria-label="byPercent ? says('leak-cylinder', { current }) : says('held-cylinder', { current, unit })"
              class="border-b-3 text-[2.4rem] leading-tight max-[20rem]:text-2xl sm:text-5xl"
              :class="field === 'held' ? 'border-verdigris' : 'border-rule'"
              :aria-invalid="fault !== '' || refusal !== ''"
              @typed="refusal = ''"
              @unit="(u) => (unit = u)"
              @unread="(said) => (refusal = said)"
              @focus="at('held')"
              @keydown="press"
            />
          </label>
          <select
            :value="unit"
            class="field w-auto max-[20rem]:px-0"
            :aria-label="says('unit')"
            tabindex="-1"
            @change="(inUnit(($event.target as HTMLSelectElement).value as 'psi'), focus())"
          >
            <option v-for="u in pressureUnits" :key="u">{{ u }}</option>
          </select>
        </div>
        <p v-if="air" class="text-lg font-semibold" role="status" data-live-air>
          {{ air.say }}
          <span v-if="air.phase === 'rising' && air.leak_pct !== undefined" class="figures font-normal text-soft">
            {{ says('held-2', { supply: air.supply, needle: air.needle }) }}
          </span>
        </p>
        <p v-else-if="live.fault.value" class="border-l-4 border-watch pl-3" role="alert">{{ live.fault.value }}</p>
        <p class="min-h-8 text-xl max-[20rem]:min-h-0 max-[20rem]:text-base" aria-live="polite" data-preview>
          <span v-if="refusal || fault" class="font-semibold" data-fault>{{ refusal || fault }}</span>
          <template v-else-if="preview">
            <b class="figures text-2xl sm:text-3xl">{{ rounded(preview.leak_pct, 1) }} %</b>
            <span v-if="preview.hole_mm !== undefined" class="ml-2 max-sm:text-base"
              >{{ says('like') }} <b class="figures">{{ rounded(preview.hole_mm, 2) }}</b> {{ says('mm-hole')
              }}<span
                v-if="Math.abs(preview.reference_leak_pct! - preview.leak_pct) >= 0.05"
                class="block text-base text-soft"
                ><b class="figures text-ink">{{ rounded(preview.reference_leak_pct!, 1) }} %</b>
                {{ says('100-psi-through-1-mm') }}</span
              ></span
            >
          </template>
        </p>
        <KeyPad v-show="!listening" class="mt-1 max-w-md lg:hidden" @digit="digit" @back="back" />
        <div class="lg:clear-both" :class="{ 'max-lg:hidden': !listening }" data-places>
          <p class="font-semibold" :class="{ 'text-xl': asking }" aria-live="assertive" data-asking>
            {{ asking ? says('where-do-you-hear-if') : says('where-do-you-hear') }}
          </p>
          <PlaceButtons
            :paths="paths"
            :armed="armed"
            :beside="cell.beside"
            @place="place"
            @nothing="nothing"
            @louder="louder"
          />
        </div>
        <div class="mt-2 flex gap-2 sm:gap-3">
          <button
            class="button-main min-h-12 grow text-xl max-[20rem]:px-1 max-[20rem]:text-base sm:min-h-14"
            data-keep
            @click="keep"
          >
            {{
              sheet.leak_prompt.cylinder === 0 && !held
                ? says('next')
                : asking
                  ? says('save-without-place')
                  : says('save')
            }}
            <KeyCap class="max-sm:hidden">{{ says('enter') }}</KeyCap>
          </button>
          <button
            class="button-plain min-h-12 max-[20rem]:px-1 lg:hidden"
            :aria-pressed="listening"
            @click="listening = !listening"
          >
            {{ listening ? says('figures') : says('heard-at-2') }}
          </button>
        </div>
      </div>
      <div class="mt-2 flex flex-wrap gap-2 sm:gap-3">
        <button class="button-plain min-h-12 sm:min-h-14" @click="askStrike">
          {{ says('strike') }} <KeyCap class="max-sm:hidden">x</KeyCap>
        </button>
        <button
          class="button-plain min-h-12 sm:min-h-14"
          :class="{ 'bg-verdigris-pale': holding }"
          :aria-pressed="holding"
          @click="holding = !holding"
        >
          {{ holding ? says('helper-holds') : says('tell-hold') }}
          <KeyCap class="max-sm:hidden">{{ says('space') }}</KeyCap>
        </button>
        <button class="button-plain min-h-12 sm:min-h-14" :aria-pressed="byPercent" @click="byPercent = !byPercent">
          {{ byPercent ? says('type-held') : says('type') }} <KeyCap class="max-sm:hidden">%</KeyCap>
        </button>
        <button class="button-plain min-h-12 sm:min-h-14" @click="turnPosition">
          {{ names[position] }} <KeyCap class="max-sm:hidden">b</KeyCap>
        </button>
      </div>
    </section>
    <section :aria-label="says('all-cylinders')">
      <BorePlan
        :layout="sheet.engine.layout"
        :bores="bores"
        :current="current"
        class="mb-4 max-lg:hidden"
        :style="{ maxWidth: `${Math.max(...(sheet.engine.layout.banks?.map((b) => b.length) ?? [1])) * 120}px` }"
        @pick="(c) => ((chosen = c), focus())"
      />
      <LeakTable
        :cells="sheet.leak"
        :current="current"
        :waiting="done"
        @pick="(c) => ((chosen = c), focus())"
        @reading="askOf"
      />
      <p v-for="w in sheet.warnings" :key="w" class="mt-3 border-l-4 border-watch pl-3" data-warning>{{ w }}</p>
      <p v-if="!sheet.wheel" class="mt-3 text-soft">
        {{ says('add-engines-firing-order-see') }}
      </p>
    </section>
    <MarkDialog :marks="marks" />
  </div>
</template>
