<script setup lang="ts">
import { useSessionStorage } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import { practice } from '@/api/base'
import { oiled } from '@/practice/oil'
import type { Schemas } from '@/api/client'
import BorePlan from '@/components/BorePlan.vue'
import FigureInput from '@/components/FigureInput.vue'
import KeyCap from '@/components/KeyCap.vue'
import Schools from '@/components/Schools.vue'
import { figureOf, noFigure, pressureUnits, typedOn, unitAfter } from '@/composables/figure'
import { useKeys } from '@/composables/useKeys'
import { say, sound } from '@/composables/useSound'
import { forget, mineIn } from '@/outbox/mine'
import { drop } from '@/outbox/useOutbox'
import { usePulls, type Mode, type Work } from '@/composables/useSheet'
import { useTyped } from '@/composables/useTyped'
import { boresOf } from './bores'
import CrankButton from './CrankButton.vue'
import { isDiesel, madeSafe, stopWhen } from './cranking'
import KeyPad from './KeyPad.vue'
import LiveNeedle from './LiveNeedle.vue'
import PullTable from './PullTable.vue'
import MarkDialog from './MarkDialog.vue'
import SwapDialog from './SwapDialog.vue'
import TraceList from './TraceList.vue'
import { useCrank } from './useCrank'
import { useLivePull } from './useLivePull'
import { useMarks } from './useMarks'
import { useSeat } from './useSeat'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

const props = defineProps<{ work: Work; mode: Mode }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const { sheet } = props.work
const pulling = usePulls(props.work, props.mode)
const { cells, current, prompt, last } = pulling

// What is known beside the reading, where somebody looks at it: of this test alone.
const volts = ref('')
const beats = useSessionStorage(`braxel.beats.${props.work.engine}.${props.work.session}`, '')
const rpm = ref('')
const oil = ref('5')
const beside = computed(() => [
  { key: 'beats', words: says('compressions-3'), text: beats.value },
  { key: 'battery_v', words: says('battery'), text: volts.value },
  { key: 'rpm', words: says('rpm'), text: rpm.value },
  ...(props.mode === 'wet' ? [{ key: 'oil_cc', words: says('oil-2'), text: oil.value }] : []),
])
const known = computed(() => Object.fromEntries(beside.value.map((b) => [b.key, figureOf(b.text)])))

/** A half-typed figure, and the cylinder that it is of. */
const half = useTyped(props.work, `pull-${props.mode}`, { text: '', cylinder: 0 })
const typed = computed({
  get: () => half.value.text,
  set: (text: string) => (half.value = { text, cylinder: text === '' ? 0 : half.value.cylinder || current.value }),
})
if (half.value.text !== '' && cells.value.some((c) => c.cylinder === half.value.cylinder)) {
  pulling.choose(half.value.cylinder)
  pulling.hold(true)
}
watch(() => typed.value !== '', pulling.hold)
const fault = ref('')
const input = useTemplateRef('input')
const unit = ref<(typeof pressureUnits)[number]>('psi')
watch(
  () => sheet.value?.unit,
  (u) => u && (unit.value = u),
  { immediate: true },
)

const cell = computed(() => cells.value.find((c) => c.cylinder === current.value))
const pulls = computed(() => cell.value?.pulls ?? [])
/** A pull of this cylinder that is on record and counts for nothing until somebody says that it is as read. */
const doubted = computed(() => pulls.value.filter((p) => !p.struck && p.doubt).at(-1))
/** What the next figure will be kept under: what the sheet asks for, unless another was chosen or what waits is further on. */
const next = computed(() => {
  if (props.mode === 'wet' && !sheet.value?.wet.some((c) => c.asked || c.pulls.length) && typed.value === '')
    return says('no-cylinder-low-so-no')
  if (!cell.value || prompt.value?.cylinder === current.value) return prompt.value?.say
  if (prompt.value?.cylinder === 0 && typed.value === '') return prompt.value.say
  return says('next-here', { current: current.value, place: cell.value.place })
})

const starter = useCrank(props.work, current)
/** What was kept last, for the helper to hear. */
const kept = ref('')
// The rest that was asked for when the starter stopped: the seat counts it down by itself. On another step it goes on.
const restAsked = ref(starter.rest.value > 0 ? starter.rest.value : undefined)
useSeat(props.work, () => {
  const crank = starter.crank.value
  const volts = sheet.value!.session.conditions?.battery_v
  const common = { cylinder: current.value, foot: volts ? says('battery-v', { volts }) : '' }
  if (starter.running.value)
    return { ...common, do: 'crank', line: crank.pedal, seconds: crank.seconds, most_s: crank.most_s }
  const rest_s = starter.rest.value > 0 ? restAsked.value : undefined
  if (starter.unkept.value) return { ...common, do: 'stop', line: says('let-go-gauge-being-read'), rest_s }
  if (prompt.value?.cylinder === 0 && typed.value === '' && rest_s === undefined)
    return { ...common, do: 'done', line: says('all-cylinders-read', { kept: kept.value }).trim() }
  return {
    ...common,
    do: 'wait',
    line: says('next-cylinder', { kept: kept.value, current: current.value }).trim(),
    rest_s,
  }
})
watch(starter.running, (is) => (restAsked.value = is ? undefined : starter.rest.value))

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
  const wrong = beside.value.find((b) => Number.isNaN(known.value[b.key]))
  if (wrong) fault.value = `${wrong.words}: ${noFigure(wrong.text)}`
  else if (!(value >= 0)) fault.value = noFigure(text)
  else fault.value = ''
  if (fault.value) return
  const cylinder = current.value
  typedOver(cylinder)
  typed.value = ''
  await enter(cylinder, text, value, starter.take(cylinder))
}

/** Enters a pull of a cylinder, as it is written; false where it was refused. */
async function enter(
  cylinder: number,
  text: string,
  value: number,
  seconds?: number,
  more: Partial<Schemas['PullBody']> = {},
) {
  pulling.choose(cylinder)
  const { is, answer, entry } = await pulling.pull(value, unit.value, {
    ...known.value,
    ...(seconds ? { seconds } : {}),
    ...more,
  })
  kept.value = is === 'refused' ? '' : says('saved-2', { readings: text })
  sound(is === 'refused' || answer?.doubt ? 'look' : 'kept')
  if (is !== 'refused') return true
  // A figure that is refused comes back into its field, marked; if another is being typed, it stays in the outbox.
  if (typed.value !== '') return false
  typed.value = text
  fault.value = answer?.why ?? says('not-saved')
  pulling.choose(cylinder)
  await drop(entry.id)
  return false
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
})

const asRead = () => doubted.value?.key && props.work.asRead(doubted.value.key)

/** What this hand entered last: a pull that still waits, or one that is kept; else the last of the sheet. */
const lastOne = computed(() => {
  const kept = cells.value.flatMap((c) =>
    c.pulls.flatMap((p) => (p.key && !p.struck ? [{ key: p.key, cylinder: c.cylinder, ...p, waits: false }] : [])),
  )
  const waits = pulling.waiting.value.map((e) => ({ ...e.body, key: e.id, waits: true }))
  const all = new Map([...kept, ...waits].map((p) => [p.key, p]))
  const mine = mineIn(props.work.engine, props.work.session, 'pull').findLast((id) => all.has(id))
  return all.get(mine ?? last.value ?? '')
})

/** Takes it back: its figure returns to the field, and the pull is struck, or never sent. */
async function takeBack() {
  const pull = lastOne.value
  if (!pull) return
  if (!sheet.value!.session.open) return void (fault.value = says('test-finished-reopen-undo-reading'))
  if (pull.waits) await drop(pull.key)
  else await props.work.strike(pull.key, says('undone'))
  forget(pull.key)
  pulling.choose(pull.cylinder)
  unit.value = pull.unit
  typed.value = String(pull.value)
}

const marks = useMarks(props.work, (cylinder) => {
  pulling.choose(cylinder)
  input.value?.focus()
})
const called = (pull: Schemas['Pull'], cylinder: number) =>
  says('cylinder-3', { value: pull.value, unit: pull.unit, cylinder })
function askStrike() {
  const pull = pulls.value.filter((p) => !p.struck && p.key).at(-1)
  if (pull) marks.ask(pull, called(pull, current.value), current.value)
}
/** A pull that is pointed at may have been of any cylinder. */
function askOf(pull: Schemas['Pull'], cylinder: number) {
  const all = cells.value.map((c) => c.cylinder)
  marks.ask(pull, called(pull, cylinder), cylinder, all)
}

/** What this cylinder read last, for the pull that reads the same: it goes into the field, and is kept like any other. */
const before = computed(() => pulls.value.filter((p) => !p.struck && !p.doubt && p.unit === unit.value).at(-1)?.value)
function sameAgain() {
  if (before.value === undefined) return
  typed.value = String(before.value)
  fault.value = ''
  input.value?.focus()
}

/** A digit typed while nothing has the focus, or on the pad, goes into the field. */
function type(key: string) {
  typed.value = typedOn(typed.value, key)
  fault.value = ''
}
function typeIn(event: KeyboardEvent) {
  type(event.key)
  input.value?.focus()
}
function back() {
  if (typed.value === '') return void takeBack()
  typed.value = typed.value.slice(0, -1)
}

function leave() {
  if (typed.value === '') emit('leave')
  else typed.value = ''
}

useKeys([
  { keys: ['0…9'], does: says('reading-comma-as-good-as') },
  { keys: [...'0123456789.,'], does: '', run: typeIn },
  { keys: ['='], does: says('same-as-last-reading-cylinder'), run: sameAgain },
  {
    keys: ['Enter'],
    does: says('save-next-empty-field-what'),
    run: () => void keep(),
  },
  {
    keys: [' '],
    does: says('starter-crank-stop-not-while'),
    run: () => void crankOrStop(),
  },
  { keys: ['y'], does: says('as-read-doubted-counts'), run: () => void asRead() },
  { keys: ['Backspace'], does: says('delete-digit-empty-field-undo-2'), run: back },
  { keys: ['x'], does: says('strike-last-reading-cylinder-with'), run: askStrike },
  { keys: ['u'], does: says('gauges-unit'), run: () => (unit.value = unitAfter(unit.value)) },
  { keys: ['ArrowRight', 'ArrowDown'], does: says('next-cylinder-empty-field'), run: () => step(1) },
  { keys: ['ArrowLeft', 'ArrowUp'], does: says('previous-cylinder'), run: () => step(-1) },
  { keys: ['Escape'], does: says('clear-field-if-empty-leave'), run: leave },
])
/** A half-typed figure stays with its cylinder. */
function step(by: number) {
  if (typed.value === '') pulling.move(by)
}
onMounted(() => input.value?.focus())
watch(next, (words) => say(words ?? ''))
const swapping = ref(false)
watch(current, () => nextTick(() => document.activeElement === document.body && input.value?.focus()))

const bores = computed(() => boresOf(sheet.value!))
function pick(cylinder: number) {
  pulling.choose(cylinder)
  input.value?.focus()
}
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

      <div class="mt-2 flex items-end gap-x-5 sm:mt-3">
        <p class="figures text-[3.6rem] leading-none font-semibold sm:text-[9rem]" data-current>{{ current }}</p>
        <p class="min-w-0 text-lg leading-snug break-words text-soft sm:pb-3">
          <b v-if="cell.name" class="text-ink">{{ cell.name }}, </b>{{ cell.place }}<br />
          <template v-if="cell.baseline"
            >{{ says('baseline') }} <b class="figures text-ink">{{ cell.baseline.value }}</b></template
          >
          <template v-if="cell.last"
            >{{ says('last') }} <b class="figures text-ink">{{ cell.last.value }}</b></template
          >
        </p>
        <CrankButton class="ml-auto shrink-0 max-[20rem]:hidden" :starter="starter" @press="crankOrStop" />
      </div>
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
          >{{ says('oil-put-cm') }} <input v-model="oil" class="field figures w-20" inputmode="decimal"
        /></label>
        <p class="mt-2 border-l-4 border-watch pl-3">
          {{ isDiesel(sheet.engine) ? says('diesel-can-fire-oil-dont') : says('oil-can-lock-or-fire') }}
        </p>
      </template>

      <LiveNeedle class="mt-2" :live="live" @hands="input?.focus()" />

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
            ref="input"
            v-model="typed"
            :aria-label="says('reading-cylinder', { current, unit })"
            :aria-invalid="fault !== ''"
            class="min-w-0 grow border-b-4 border-verdigris text-[3rem] leading-tight max-[20rem]:text-2xl aria-invalid:border-act"
            :class="{ 'sm:text-[5.5rem]': !live.speaks.value }"
            @typed="fault = ''"
            @unit="(u) => (unit = u)"
            @unread="(said) => (fault = said)"
          />
          <div class="pb-1 text-soft">
            {{
              says('reading-2', {
                current,
                pulls: pulls.filter((p) => !p.struck).length + pulling.waitingFor(current).length + 1,
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
            <select
              v-model="unit"
              class="field w-auto"
              :aria-label="says('unit')"
              tabindex="-1"
              @change="input?.focus()"
            >
              <option v-for="u in pressureUnits" :key="u">{{ u }}</option>
            </select>
          </div>
        </div>
        <KeyPad class="mt-2 max-w-md lg:hidden" @digit="type" @back="back" />
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
            :disabled="!pulls.some((p) => !p.struck)"
            @click="askStrike"
          >
            {{ says('strike') }} <KeyCap class="max-sm:hidden">x</KeyCap>
          </button>
          <button class="button-plain min-h-12 max-[20rem]:hidden sm:min-h-14" :disabled="!lastOne" @click="takeBack">
            {{ says('undo-2') }}
          </button>
        </div>
      </div>
      <div class="mt-2 hidden gap-2 max-[20rem]:flex">
        <button class="button-plain min-h-12" :disabled="!pulls.some((p) => !p.struck)" @click="askStrike">
          {{ says('strike') }}
        </button>
        <button class="button-plain min-h-12" :disabled="!lastOne" @click="takeBack">{{ says('undo-2') }}</button>
      </div>
      <details class="mt-3">
        <summary class="min-h-11 content-center text-soft">{{ says('compressions-volts-cranking-speed') }}</summary>
        <div class="flex flex-wrap gap-3">
          <label class="text-soft"
            >{{ says('compressions') }} <input v-model="beats" class="field figures w-20" inputmode="numeric"
          /></label>
          <label class="text-soft"
            >{{ says('battery-v-2') }} <input v-model="volts" class="field figures w-24" inputmode="decimal"
          /></label>
          <label class="text-soft"
            >{{ says('rpm-2') }} <input v-model="rpm" class="field figures w-24" inputmode="numeric"
          /></label>
        </div>
      </details>
    </section>

    <section :aria-label="says('all-cylinders')">
      <BorePlan
        :layout="sheet.engine.layout"
        :bores="bores"
        :current="current"
        class="max-lg:hidden"
        :style="{ maxWidth: `${Math.max(...(sheet.engine.layout.banks?.map((b) => b.length) ?? [1])) * 150}px` }"
        @pick="pick"
      />
      <PullTable
        class="mt-4"
        :cells="cells"
        :unit="sheet.unit"
        :current="current"
        :waiting="pulling.waitingFor"
        @pick="pick"
        @reading="askOf"
      />
      <TraceList v-if="mode === 'dry'" :work="work" :number="current" :unit="unit" />
      <p class="mt-1">
        <button class="link min-h-11" @click="swapping = true">{{ says('two-cylinders-were-swapped') }}</button>
      </p>
      <ul v-if="mode === 'wet'" class="mt-4 grid gap-1">
        <li v-for="c in sheet.wet.filter((w) => w.says)" :key="c.cylinder">
          <b class="figures">{{ c.cylinder }}</b> {{ says('rose') }}
          <b class="figures">{{ rounded(c.gain_pct!, 0) }} %</b
          ><template v-if="c.oil_pct !== undefined">{{
            says('oil-alone-up', { gain: rounded(c.oil_pct, 0) })
          }}</template
          ><template v-if="c.siblings_pct !== undefined">{{
            says('others', { gain: rounded(c.siblings_pct, 0) })
          }}</template
          >: {{ c.says }}.
        </li>
      </ul>
      <p v-for="w in sheet.warnings" :key="w" class="mt-3 border-l-4 border-watch pl-3" data-warning>{{ w }}</p>
      <template v-if="mode === 'dry'">
        <p v-for="c in sheet.verdict.caveats" :key="c" class="mt-3 border-l-4 border-rule pl-3" data-caveat>{{ c }}</p>
        <Schools v-if="prompt?.cylinder === 0 && sheet.evenness.length" class="mt-6" :judgements="sheet.evenness" />
      </template>
    </section>
    <MarkDialog :marks="marks" />
    <SwapDialog :open="swapping" :work="work" @close="swapping = false" />
  </div>
</template>
