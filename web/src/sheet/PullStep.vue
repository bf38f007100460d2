<script setup lang="ts">
import { computed, nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import { practice } from '@/api/base'
import { oiled } from '@/practice/oil'
import type { Schemas } from '@/api/client'
import FigureInput from '@/components/FigureInput.vue'
import KeyCap from '@/components/KeyCap.vue'
import Schools from '@/components/Schools.vue'
import { figureOf, noFigure } from '@/composables/figure'
import { unitFor } from '@/composables/shown'
import { say } from '@/composables/useSound'
import type { Work } from '@/composables/useSheet'
import { useTyped } from '@/composables/useTyped'
import AllPlaces from './AllPlaces.vue'
import CrankButton from './CrankButton.vue'
import FilmDial, { type Filmed } from '@/film/FilmDial.vue'
import { filmedNote, keepFilm } from '@/film/keep'
import { isDiesel, madeSafe, stopWhen } from './cranking'
import KeyPad from './KeyPad.vue'
import LiveNeedle from './LiveNeedle.vue'
import PlaceNow from './PlaceNow.vue'
import PullTable from './PullTable.vue'
import MarkDialog from './MarkDialog.vue'
import SwapDialog from './SwapDialog.vue'
import TraceList from './TraceList.vue'
import UnitSelect from './UnitSelect.vue'
import { useCrank } from './useCrank'
import { useCrankSeat } from './useCrankSeat'
import { useEntering, whyNot } from './useEntering'
import { useEntryKeys } from './useEntryKeys'
import { useFields } from './useFields'
import { useLastReading } from './useLastReading'
import { useLivePull } from './useLivePull'
import { useMarks } from './useMarks'
import { usePullBeside } from './usePullBeside'
import { usePulls, type Mode } from './usePulls'
import { useUnit } from './useUnit'
import WetRises from './WetRises.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

const props = defineProps<{ work: Work; mode: Mode }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const { sheet } = props.work

/** A half-typed figure, and the cylinder that it is of. */
const half = useTyped(props.work, `pull-${props.mode}`, { text: '', cylinder: 0 })
const pulling = usePulls(props.work, props.mode, () => half.value.text !== '', half.value.cylinder)
const { cells, current, prompt } = pulling
const typed = computed({
  get: () => half.value.text,
  set: (text: string) => (half.value = { text, cylinder: text === '' ? 0 : half.value.cylinder || current.value }),
})
const fault = ref('')
const field = useFields({ reading: typed }, 'reading', () => (fault.value = ''))
const unit = useUnit(() => sheet.value?.unit)
const beside = usePullBeside(props.work, props.mode)

const cell = computed(() => cells.value.find((c) => c.cylinder === current.value))
const pulls = computed(() => cell.value?.pulls ?? [])
const standing = computed(() => pulls.value.filter((p) => !p.struck))
/** A reading of this cylinder that counts for nothing until somebody says that it is as read. */
const doubted = computed(() => standing.value.filter((p) => p.doubt).at(-1))
/** What the next figure will be kept under: what the sheet asks for, unless another was chosen or what waits is further on. */
const next = computed(() => {
  if (props.mode === 'wet' && !sheet.value?.wet.some((c) => c.asked || c.pulls.length) && typed.value === '')
    return says('no-cylinder-low-so-no')
  if (!cell.value || prompt.value?.cylinder === current.value) return prompt.value?.say
  if (prompt.value?.cylinder === 0 && typed.value === '') return prompt.value.say
  return says('next-here', { current: current.value, place: cell.value.place })
})

const starter = useCrank(props.work, current)
const { kept, handIn } = useEntering(() => typed.value === '')
useCrankSeat(props.work, starter, {
  current,
  kept,
  done: () => (prompt.value?.cylinder === 0 && typed.value === '' ? says('all-cylinders-read') : undefined),
  next: () => says('next-cylinder', { current: current.value }),
})

/** Nobody is told to crank by a slip of the hand: not over a half-typed figure, nor at a test that is finished. */
async function crankOrStop() {
  if (starter.running.value) return starter.stop()
  if (typed.value !== '' || !sheet.value!.session.open) return
  // Who practises has oiled what he cranks wet, and the clock says so.
  if (practice && props.mode === 'wet') await oiled(props.work.engine, current.value)
  starter.start()
}

async function keep() {
  const text = typed.value.trim()
  if (text === '' && shows.value !== undefined) return takeLive(current.value)
  if (text === '' && starter.running.value) return starter.stop()
  if (text === '') return prompt.value?.cylinder === 0 && !doubted.value && emit('done')
  const value = figureOf(text)!
  fault.value = beside.wrong() || (value >= 0 ? '' : noFigure(text))
  if (fault.value) return
  const cylinder = current.value
  typedOver(cylinder)
  typed.value = ''
  await enter(cylinder, text, value, starter.take(cylinder))
}

/** Enters a reading of a cylinder, as it is written; false where it was refused. */
async function enter(
  cylinder: number,
  text: string,
  value: number,
  seconds?: number,
  more: Partial<Schemas['PullBody']> = {},
) {
  pulling.choose(cylinder)
  const all = { ...beside.known.value, ...(seconds ? { seconds } : {}), ...more }
  const going = pulling.pull(value, unit.value, all).then((o) => [o])
  const { refused } = await handIn(going, says('saved-2', { readings: text }), ([o]) => {
    typed.value = text
    fault.value = whyNot(o!)
    pulling.choose(cylinder)
  })
  return !refused.length
}

const {
  live,
  shows,
  take: takeLive,
  typedOver,
} = useLivePull(props.work, unit, {
  current,
  typed,
  wanted: () => prompt.value?.cylinder !== 0 || starter.unkept.value !== undefined,
  starter,
  fault,
  enter,
  picture: () => filming.value?.picture(),
})
const filming = useTemplateRef<InstanceType<typeof FilmDial>>('filming')

/** A film was read of the cylinder that it was begun for. */
async function filmed({ value, sd, found, picture }: Filmed) {
  const cylinder = current.value
  const one = found?.pulls?.[0]
  const note = filmedNote(sd, unit.value)
  const more = { beats: one?.beats, rpm: one?.rpm || undefined, camera_sd: sd || undefined, note }
  typed.value = ''
  if (await enter(cylinder, String(value), value, starter.take(cylinder), more))
    await keepFilm(props.work, { cylinder }, note, found, picture)
}

const asRead = () => doubted.value?.key && props.work.asRead(doubted.value.key)

const last = useLastReading(props.work, pulling, fault)
async function takeBack() {
  const pull = await last.takeBack()
  if (!pull) return
  pulling.choose(pull.cylinder)
  unit.value = pull.unit
  typed.value = String(pull.value)
}

const marks = useMarks(props.work, pick)
const called = (pull: Schemas['Pull'], cylinder: number) =>
  says('cylinder-3', { value: pull.value, unit: pull.unit, cylinder })
function askStrike() {
  const pull = standing.value.filter((p) => p.key).at(-1)
  if (pull) marks.ask(pull, called(pull, current.value), current.value)
}
/** A reading that is pointed at may have been of any cylinder. */
function askOf(pull: Schemas['Pull'], cylinder: number) {
  const all = cells.value.map((c) => c.cylinder)
  marks.ask(pull, called(pull, cylinder), cylinder, all)
}

/** What this cylinder read last: one that is the same again is kept by one key, and taken back like any other. */
const before = computed(() => standing.value.filter((p) => !p.doubt && p.unit === unit.value).at(-1)?.value)
function sameAgain() {
  if (before.value === undefined || typed.value !== '') return
  typed.value = String(before.value)
  field.focus()
  void keep()
}
function back() {
  if (typed.value === '') void takeBack()
  else field.back()
}
/** A half-typed figure stays with its cylinder. */
function move(by: number) {
  if (typed.value === '') pulling.move(by)
}
function clear() {
  if (typed.value === '') emit('leave')
  else typed.value = ''
}
function pick(cylinder: number) {
  pulling.choose(cylinder)
  field.focus()
}

useEntryKeys({
  figure: says('reading-comma-as-good-as'),
  own: [
    { keys: ['='], does: says('same-as-last-reading-cylinder'), run: sameAgain },
    { keys: ['y'], does: says('as-read-doubted-counts'), run: () => void asRead() },
  ],
  enter: { does: says('save-next-empty-field-what'), run: keep },
  space: { does: says('starter-crank-stop-not-while'), run: crankOrStop },
  unit: { does: says('gauges-unit'), get: () => unit.value, set: (u) => (unit.value = u) },
  strike: { does: says('strike-last-reading-cylinder-with'), run: askStrike },
  back: { does: says('delete-digit-empty-field-undo-2'), run: back },
  next: says('next-cylinder-empty-field'),
  previous: says('previous-cylinder'),
  leave: says('clear-field-if-empty-leave'),
  digit: field.digit,
  focus: field.focus,
  move,
  clear,
})
onMounted(() => field.focus())
watch(next, (words) => say(words ?? ''))
const swapping = ref(false)
watch(current, () => nextTick(() => document.activeElement === document.body && field.focus()))
</script>

<template>
  <div
    v-if="sheet && cell"
    class="grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-6 pt-3 pb-8 lg:grid-cols-[minmax(0,11fr)_minmax(0,9fr)]"
  >
    <section :aria-label="says('reading')" class="flex min-w-0 flex-col max-lg:min-h-[calc(100svh-8rem)]">
      <h2 class="text-xl leading-tight font-medium sm:text-2xl" aria-live="polite" data-prompt>{{ next }}</h2>
      <p v-if="sheet.verdict.remark" role="status" class="mt-1 border-l-4 border-watch pl-3 text-lg" data-remark>
        {{ sheet.verdict.remark }}
      </p>
      <p v-if="!practice && mode === 'dry' && prompt?.cylinder === 0" class="mt-1 text-xl" data-sentence>
        {{ sheet.verdict.sentence }}
      </p>

      <PlaceNow
        :number="current"
        :name="cell.name"
        :place="cell.place"
        :baseline="cell.baseline && String(cell.baseline.value)"
        :last="cell.last && String(cell.last.value)"
      >
        <CrankButton class="ml-auto shrink-0 max-[20rem]:hidden" :starter="starter" @press="crankOrStop" />
      </PlaceNow>
      <p v-if="mode === 'dry'" class="mt-2 text-[0.9rem] text-soft max-lg:order-last">
        {{
          says('crank-vent-gauge-after-each', {
            cranking: stopWhen(sheet.session.conditions?.cranking),
            engine: madeSafe(sheet.engine),
          })
        }}
      </p>
      <template v-else>
        <label class="mt-2 flex items-center gap-3 text-soft"
          >{{ says('oil-put', { unit: unitFor('cc') }) }}
          <input v-model="beside.oil.value" class="field figures w-20" inputmode="decimal"
        /></label>
        <p class="mt-2 border-l-4 border-watch pl-3">
          {{ isDiesel(sheet.engine) ? says('diesel-can-fire-oil-dont') : says('oil-can-lock-or-fire') }}
        </p>
      </template>

      <FilmDial ref="filming" :work="work" :number="current" :unit="unit" kind="valve" @filmed="filmed" />
      <LiveNeedle class="mt-2" :live="live" @hands="field.focus()" />

      <div class="max-lg:sticky max-lg:bottom-0 max-lg:z-10 max-lg:mt-auto max-lg:bg-paper max-lg:pb-2" data-entry>
        <div class="pt-1 text-lg" aria-live="assertive">
          <div v-if="doubted" class="flex flex-wrap items-center gap-x-3 border-l-4 border-watch pl-3" data-doubt>
            <p>
              <b class="figures">{{ doubted.value }}</b>
              {{ says('doesnt-count-yet', { current, doubt: doubted.doubt }) }}
            </p>
            <button class="button-plain min-h-11" data-as-read @click="asRead">
              {{ says('yes-as-read') }} <KeyCap class="max-sm:hidden">y</KeyCap>
            </button>
          </div>
          <p v-if="fault" class="font-semibold text-act dark:text-ink" data-fault>{{ fault }}</p>
        </div>
        <div class="flex max-w-md items-end gap-3">
          <FigureInput
            :ref="field.input('reading')"
            v-model="typed"
            :aria-label="says('reading-cylinder', { current, unit })"
            :aria-invalid="fault !== ''"
            class="min-w-0 grow border-b-4 border-verdigris text-[3rem] leading-tight max-[20rem]:text-2xl aria-invalid:border-act"
            :class="{ 'sm:text-[5.5rem]': !live.speaks.value }"
            @typed="field.wrote"
            @unit="(u) => (unit = u)"
            @unread="(said) => (fault = said)"
          />
          <div class="pb-1 text-soft">
            {{
              says('reading-2', {
                current,
                pulls: standing.length + pulling.waitingFor(current).length + 1,
              })
            }}
            <button
              v-if="before !== undefined"
              class="ml-1 min-h-11 border border-rule px-2 max-[20rem]:hidden"
              :aria-label="says('same-again', { before })"
              data-same
              @click="sameAgain"
            >
              = <span class="figures">{{ before }}</span>
            </button>
            <UnitSelect v-model="unit" @change="field.focus()" />
          </div>
        </div>
        <KeyPad class="mt-2 max-w-md lg:hidden" @digit="field.digit" @back="back" />
        <div class="mt-2 flex max-w-2xl gap-2 sm:gap-3 lg:mt-3">
          <button class="button-main min-h-12 grow text-xl sm:min-h-14" data-keep @click="keep">
            {{
              !typed && shows !== undefined
                ? says('save-2', { shows })
                : prompt?.cylinder === 0 && !typed
                  ? says('next')
                  : says('save')
            }}
            <KeyCap class="max-sm:hidden">{{ says('enter') }}</KeyCap>
          </button>
          <button
            class="button-plain min-h-12 max-[20rem]:hidden sm:min-h-14"
            :disabled="!standing.length"
            @click="askStrike"
          >
            {{ says('strike') }} <KeyCap class="max-sm:hidden">x</KeyCap>
          </button>
          <button
            class="button-plain min-h-12 max-[20rem]:hidden sm:min-h-14"
            :disabled="!last.one.value"
            @click="takeBack"
          >
            {{ says('undo-2') }}
          </button>
        </div>
      </div>
      <div class="mt-2 hidden gap-2 max-[20rem]:flex">
        <button class="button-plain min-h-12" :disabled="!standing.length" @click="askStrike">
          {{ says('strike') }}
        </button>
        <button class="button-plain min-h-12" :disabled="!last.one.value" @click="takeBack">
          {{ says('undo-2') }}
        </button>
      </div>
      <details class="mt-3">
        <summary class="min-h-11 content-center text-soft">{{ says('compressions-volts-cranking-speed') }}</summary>
        <div class="flex flex-wrap gap-3">
          <label class="text-soft"
            >{{ says('compressions') }}
            <input v-model="beside.beats.value" class="field figures w-20" inputmode="numeric"
          /></label>
          <label class="text-soft"
            >{{ says('battery-v-2') }}
            <input v-model="beside.volts.value" class="field figures w-24" inputmode="decimal"
          /></label>
          <label class="text-soft"
            >{{ says('rpm-2') }} <input v-model="beside.rpm.value" class="field figures w-24" inputmode="numeric"
          /></label>
        </div>
      </details>
    </section>

    <AllPlaces
      :aria-label="says('all-cylinders')"
      :sheet="sheet"
      :current="current"
      :wide="150"
      :caveats="mode === 'dry'"
      @pick="pick"
    >
      <PullTable
        :cells="cells"
        :unit="sheet.unit"
        :current="current"
        :waiting="pulling.waitingFor"
        @pick="pick"
        @reading="askOf"
      />
      <TraceList v-if="mode === 'dry'" :work="work" :number="current" :unit="unit" />
      <p v-if="cells.length > 1" class="mt-1">
        <button class="link min-h-11" @click="swapping = true">{{ says('two-cylinders-were-swapped') }}</button>
      </p>
      <WetRises v-if="mode === 'wet'" :cells="sheet.wet" />
      <template #after>
        <Schools
          v-if="mode === 'dry' && prompt?.cylinder === 0 && sheet.evenness.length"
          class="mt-6"
          :judgements="sheet.evenness"
        />
      </template>
    </AllPlaces>
    <MarkDialog :marks="marks" />
    <SwapDialog :open="swapping" :work="work" @close="swapping = false" />
  </div>
</template>
