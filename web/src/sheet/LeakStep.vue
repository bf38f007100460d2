<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import CrankWheel from '@/components/CrankWheel.vue'
import FigureInput from '@/components/FigureInput.vue'
import GaugeAsking from '@/components/GaugeAsking.vue'
import KeyCap from '@/components/KeyCap.vue'
import { figureOf, usualSupply } from '@/composables/figure'
import { useTyped } from '@/composables/useTyped'
import type { Work } from '@/composables/useSheet'
import { say, sound } from '@/composables/useSound'
import AllPlaces from './AllPlaces.vue'
import KeyPad from './KeyPad.vue'
import LeakPreview from './LeakPreview.vue'
import LeakTable from './LeakTable.vue'
import PlaceButtons from './PlaceButtons.vue'
import PlaceNow from './PlaceNow.vue'
import MarkDialog from './MarkDialog.vue'
import UnitSelect from './UnitSelect.vue'
import { useEntering, whyNot } from './useEntering'
import { useEntryKeys } from './useEntryKeys'
import { useFields } from './useFields'
import { useLeakPreview } from './useLeakPreview'
import { useLiveAir } from './useLiveAir'
import FilmDial, { type Filmed } from '@/film/FilmDial.vue'
import { filmedNote, keepFilm } from '@/film/keep'
import { useMarks } from './useMarks'
import { usePlaces } from './usePlaces'
import { useRow } from './useRow'
import { useSeat } from './useSeat'
import { useUnit } from './useUnit'
import { placesOf } from './places'
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
const was = { ...half.value }
const supply = ref('')
const held = ref(was.held)
/** On a phone the places take the pad's room when they are asked for. */
const listening = ref(false)
const byPercent = ref(false)
const position = ref<'tdc' | 'swept' | 'bdc'>('tdc')
const asking = ref(false)
const heard = usePlaces(was.paths, () => cell.value.beside, asking)
const { paths, armed, place, nothing, louder, press } = heard
/** A figure or a place is being entered: it stays with its cylinder. */
const entering = () => held.value !== '' || paths.value !== undefined

const done = (c: number) => props.work.waiting('leakdown').some((e) => e.body.cylinder === c)
const row = useRow({
  order: () => sheet.value.leak.map((c) => c.cylinder),
  asked: () => sheet.value.leak_prompt.cylinder,
  waits: () => props.work.waiting('leakdown').length > 0,
  enough: (c) =>
    done(c) ||
    (c !== sheet.value.leak_prompt.cylinder && sheet.value.leak.find((x) => x.cylinder === c)!.leak_pct !== undefined),
  entering,
  at: was.cylinder || undefined,
})
const { current } = row
const cell = computed(() => sheet.value.leak.find((c) => c.cylinder === current.value)!)
const step = computed(() => sheet.value.wheel?.steps.findIndex((s) => s.cylinder === current.value) ?? -1)

const unit = useUnit(() => sheet.value.leak_unit)
/** What the supply was last in this unit; else what is usual. */
function supplyIn(u: typeof unit.value) {
  const last = sheet.value.leak.flatMap((c) => c.attempts).findLast((a) => a.unit === u)
  supply.value = last ? String(last.supply) : usualSupply[u]
}
watch(() => sheet.value.leak_unit, supplyIn, { immediate: true })
function inUnit(u: typeof unit.value) {
  unit.value = u
  supplyIn(u)
}
if (was.supply) supply.value = was.supply
watch([held, paths, supply, current], () => {
  half.value = entering()
    ? { held: held.value, supply: supply.value, cylinder: current.value, paths: paths.value ?? null }
    : { held: '', supply: '', cylinder: 0, paths: null }
})

/** Why what was typed was not kept; it stands until something else is typed. */
const refusal = ref('')
const fields = useFields({ supply, held }, 'held', () => {
  refusal.value = ''
  armed.value = undefined
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
    ...(camera.value && camera.value.held === held.value
      ? { camera_sd: camera.value.sd || undefined, note: filmedNote(camera.value.sd, unit.value) }
      : {}),
  }
}

/** What a film of the dial came to: its figure is in the field, and counts as filmed for as long as nobody types over it. */
const camera = ref<{ held: string; sd: number; film: Filmed }>()
function filmed(film: Filmed) {
  if (film.dial === 'supply') supply.value = String(film.value)
  else {
    held.value = String(film.value)
    camera.value = { held: held.value, sd: film.sd, film }
    listening.value = true
  }
  fields.focus('held')
}
const { preview, fault } = useLeakPreview(props.work, [supply, held], [byPercent, unit], body)

/** Where to turn: what the sheet asks for, unless another was chosen. */
const next = computed(() => {
  const asked = sheet.value.leak_prompt
  return asked.cylinder === current.value || !asked.cylinder ? asked : { ...cell.value, turn_deg: undefined }
})
watch(() => next.value.say, say)

/** The crank is held: said by hand, and by the first figure that is typed. */
const holding = ref(false)
const { kept, handIn } = useEntering(() => held.value === '')
watch(current, () => (holding.value = false))
useSeat(props.work, () => {
  const common = { cylinder: current.value, rotation: sheet.value.wheel?.rotation as 'clockwise' | undefined }
  if (sheet.value.leak_prompt.cylinder === 0 && held.value === '' && row.picked.value === undefined)
    return { ...common, do: 'done', line: `${kept.value} ${says('every-cylinder-has-leak-down')}`.trim() }
  if (holding.value || held.value !== '') return { ...common, do: 'hold', line: says('air-hold-crank-stand-clear') }
  return { ...common, do: 'turn', turn_deg: next.value.turn_deg, line: next.value.say }
})

const { live, air } = useLiveAir(props.work, unit, {
  current,
  free: () => held.value === '',
  came: (cylinder, atSupply, atHeld) => {
    row.choose(cylinder)
    supply.value = String(atSupply)
    held.value = String(atHeld)
    byPercent.value = false
    refusal.value = ''
    listening.value = true
    sound('kept')
  },
})

async function keep() {
  if (fields.at.value === 'supply') return otherField()
  if (held.value === '') return sheet.value.leak_prompt.cylinder === 0 && emit('done')
  if (Number.isNaN(figureOf(held.value)) || fault.value) return
  if (paths.value === undefined && !asking.value) {
    asking.value = listening.value = true
    return
  }
  const entered = body()
  before.value = entered.paths?.some((p) => p.where === 'neighbour') ? undefined : entered.paths
  const typed = held.value
  empty()
  row.choose(undefined)
  const film = 'camera_sd' in entered ? camera.value?.film : undefined
  camera.value = undefined
  const going = props.work.enter('leakdown', entered).then((o) => [o])
  if (film)
    void keepFilm(props.work, { cylinder: entered.cylinder }, filmedNote(film.sd, unit.value), film.found, film.picture)
  await handIn(going, says('read', { cylinder: entered.cylinder }), ([o]) => {
    held.value = typed
    paths.value = entered.paths
    row.choose(entered.cylinder)
    refusal.value = whyNot(o!)
  })
}
/**
 * Where air was heard at the attempt before: the same again is said, and all of it kept, by one key. A neighbour is of its own cylinder.
 */
const before = ref<Path[]>()
function sameHeard() {
  if (held.value === '' || paths.value !== undefined || !before.value) return
  paths.value = before.value.map((p) => ({ ...p }))
  void keep()
}
function empty() {
  held.value = ''
  heard.clear()
  asking.value = listening.value = false
}

/** Right after a place 1, 2 and 3 say how strong; else they are figures. */
function digit(key: string) {
  if (armed.value && '123'.includes(key)) louder(Number(key))
  else fields.digit(key)
}
const otherField = () => fields.focus(fields.at.value === 'supply' ? 'held' : 'supply')
function move(by: number) {
  if (!entering()) row.move(by)
}
function clear() {
  if (entering()) empty()
  else emit('leave')
}
function turnPosition() {
  const all = ['tdc', 'swept', 'bdc'] as const
  position.value = all[(all.indexOf(position.value) + 1) % 3]!
}
function pick(cylinder: number) {
  row.choose(cylinder)
  fields.focus()
}
const marks = useMarks(props.work, () => fields.focus())
const called = (a: Attempt, cylinder: number) => says('cylinder-2', { leak: rounded(a.leak_pct, 1), cylinder })
function askStrike() {
  const attempt = cell.value.attempts.filter((a) => !a.struck && a.key).at(-1)
  if (attempt) marks.ask(attempt, called(attempt, current.value), current.value)
}
/** A leak-down that is pointed at may have been of any cylinder. */
function askOf(a: Attempt, cylinder: number) {
  const all = sheet.value.leak.map((c) => c.cylinder)
  marks.ask(a, called(a, cylinder), cylinder, all)
}

const offered = placesOf(sheet.value!.engine.kind, (sheet.value?.cells.length ?? 0) < 2)
useEntryKeys({
  figure: says('held-pressure-right-after-place'),
  own: [
    {
      keys: offered.map((p) => p.key),
      does: says('air-at', { places: offered.map((p) => p.words).join(', ') }),
      run: (e) => place(offered.find((p) => p.key === e.key)!.where),
    },
    { keys: ['l'], does: says('listened-heard-nothing'), run: nothing },
    { keys: ['='], does: says('heard-as-before'), run: sameHeard },
    { keys: ['s'], does: says('supply-back'), run: otherField },
    { keys: ['%'], does: says('dial-shows-percent'), run: () => (byPercent.value = !byPercent.value) },
    { keys: ['b'], does: says('tdc-swept-bdc'), run: turnPosition },
  ],
  enter: { does: says('save-next'), run: keep },
  space: { does: says('tell-helper-hold-or-turn'), run: () => (holding.value = !holding.value) },
  unit: { does: says('testers-unit'), get: () => unit.value, set: inUnit },
  strike: { does: says('strike-last-attempt-cylinder'), run: askStrike },
  back: { does: says('delete-digit'), run: fields.back },
  next: says('next-cylinder-firing-order-empty'),
  previous: says('previous-cylinder'),
  leave: says('clear-what-typed-if-nothing'),
  digit,
  focus: fields.focus,
  move,
  clear,
})
onMounted(() => fields.focus())
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
      <PlaceNow
        class="max-lg:order-first"
        :number="current"
        :name="cell.name"
        :place="cell.place"
        :baseline="rounded(cell.baseline_pct, 1)"
        :last="rounded(cell.last_pct, 1)"
        after="%"
      />
      <FilmDial :work="work" :number="current" :unit="unit" kind="leak-down" @filmed="filmed" />
      <div class="max-lg:sticky max-lg:bottom-0 max-lg:z-10 max-lg:mt-auto max-lg:bg-paper max-lg:pb-2" data-entry>
        <div class="flex max-w-xl items-end gap-3 pt-1 max-[20rem]:gap-1 max-[20rem]:text-sm sm:gap-5">
          <label class="min-w-0 basis-2/5">
            <span class="font-semibold">{{ says('in') }}</span>
            <FigureInput
              :ref="fields.input('supply')"
              v-model="supply"
              :aria-label="says('supply', { unit })"
              class="border-b-3 text-[2.4rem] leading-tight max-[20rem]:text-2xl sm:text-5xl"
              :class="fields.at.value === 'supply' ? 'border-verdigris' : 'border-rule'"
              @focus="fields.take('supply', true)"
              @keydown="press"
              @typed="fields.wrote"
              @unit="(u) => (unit = u)"
              @unread="(said) => (refusal = said)"
            />
          </label>
          <label class="min-w-0 basis-2/5">
            <span class="font-semibold">{{ byPercent ? says('leak-2', { current }) : says('held', { current }) }}</span>
            <FigureInput
              :ref="fields.input('held')"
              v-model="held"
              :aria-label="byPercent ? says('leak-cylinder', { current }) : says('held-cylinder', { current, unit })"
              class="border-b-3 text-[2.4rem] leading-tight max-[20rem]:text-2xl sm:text-5xl"
              :class="fields.at.value === 'held' ? 'border-verdigris' : 'border-rule'"
              :aria-invalid="fault !== '' || refusal !== ''"
              @typed="fields.wrote"
              @unit="(u) => (unit = u)"
              @unread="(said) => (refusal = said)"
              @focus="fields.take('held')"
              @keydown="press"
            />
          </label>
          <UnitSelect
            :model-value="unit"
            class="max-[20rem]:px-0"
            @update:model-value="inUnit"
            @change="fields.focus()"
          />
        </div>
        <p v-if="air" class="text-lg font-semibold" role="status" data-live-air>
          {{ air.say }}
          <span v-if="air.phase === 'rising' && air.leak_pct !== undefined" class="figures font-normal text-soft">
            {{ says('held-2', { supply: air.supply, needle: air.needle }) }}
          </span>
        </p>
        <p v-else-if="live.fault.value" class="border-l-4 border-watch pl-3" role="alert">{{ live.fault.value }}</p>
        <LeakPreview :preview="preview" :fault="refusal || fault" />
        <KeyPad v-show="!listening" class="mt-1 max-w-md lg:hidden" @digit="digit" @back="fields.back" />
        <div class="lg:clear-both" :class="{ 'max-lg:hidden': !listening }" data-places>
          <p class="font-semibold" :class="{ 'text-xl': asking }" aria-live="assertive" data-asking>
            {{ asking ? says('where-do-you-hear-if') : says('where-do-you-hear') }}
          </p>
          <PlaceButtons
            :kind="sheet.engine.kind"
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
    <AllPlaces :aria-label="says('all-cylinders')" :sheet="sheet" :current="current" :wide="120" @pick="pick">
      <LeakTable
        :cells="sheet.leak"
        :unit="sheet.leak_unit"
        :current="current"
        :waiting="done"
        @pick="pick"
        @reading="askOf"
      />
      <template #after>
        <p v-if="!sheet.wheel" class="mt-3 text-soft">{{ says('add-engines-firing-order-see') }}</p>
      </template>
    </AllPlaces>
    <MarkDialog :marks="marks" />
  </div>
</template>
