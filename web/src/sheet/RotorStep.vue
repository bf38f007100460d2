<script setup lang="ts">
import { useSessionStorage } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import BorePlan from '@/components/BorePlan.vue'
import KeyCap from '@/components/KeyCap.vue'
import { figureOf, noFigure, pressureUnits, unitAfter } from '@/composables/figure'
import { useKeys } from '@/composables/useKeys'
import { say, sound } from '@/composables/useSound'
import type { Work } from '@/composables/useSheet'
import { drop } from '@/outbox/useOutbox'
import { boresOf } from './bores'
import CrankButton from './CrankButton.vue'
import { madeSafe } from './cranking'
import LiveNeedle from './LiveNeedle.vue'
import MarkDialog from './MarkDialog.vue'
import RotorTable from './RotorTable.vue'
import TraceList from './TraceList.vue'
import { noteOf } from './traces'
import { useCrank } from './useCrank'
import { useGauge } from './useGauge'
import { useMarks } from './useMarks'
import { useSeat } from './useSeat'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

const props = defineProps<{ work: Work }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const { sheet } = props.work

const rotors = computed(() => sheet.value?.rotors ?? [])
const chosen = ref<number>()
const prompt = computed(() => sheet.value?.prompt)
const current = computed(() => chosen.value ?? (prompt.value?.cylinder || rotors.value.at(-1)?.rotor || 1))
const rotor = computed(() => rotors.value.find((r) => r.rotor === current.value))

/** How the faces are read: a tester that shows all three, or an ordinary gauge whose needle was filmed. */
const filmed = useSessionStorage(`braxel.filmed.${props.work.engine}`, true)
const faceFields = ['face1', 'face2', 'face3'] as const
type Field = 'held' | 'pulses' | 'seconds' | 'rpm' | (typeof faceFields)[number]
const empty = (): Record<Field, string> => ({
  held: '',
  pulses: '',
  seconds: '5',
  rpm: '',
  face1: '',
  face2: '',
  face3: '',
})
const typed = useSessionStorage(`braxel.faces.${props.work.engine}.${props.work.session}`, empty())
const unit = ref<(typeof pressureUnits)[number]>('psi')
watch(
  () => sheet.value?.unit,
  (u) => u && (unit.value = u),
  { immediate: true },
)
const faults = ref<Partial<Record<Field, string>>>({})
const form = useTemplateRef('form')
const some = computed(() => (['held', 'pulses', ...faceFields] as const).some((f) => typed.value[f] !== ''))

/** The fields that are typed, in order. */
const fields = computed((): Field[] =>
  filmed.value ? ['held', 'pulses', 'seconds', ...faceFields] : [...faceFields, 'rpm'],
)
const film = { held: says('held-peak'), pulses: says('pulses-counted'), seconds: says('seconds') } as const
const called: Partial<Record<Field, string>> = {
  held: says('held-peak'),
  pulses: 'pulses',
  seconds: 'seconds',
  rpm: says('cranked-at'),
}
const fieldOf = (name: Field) => form.value?.querySelector<HTMLInputElement>(`[name=${name}]`)
const first = () => void nextTick(() => fieldOf(fields.value[0]!)?.focus())
onMounted(first)

/** Enter goes to the next field that is empty; when none is, the rotor is kept. */
function onward(event: Event) {
  const here = fields.value.indexOf((event.target as HTMLInputElement).name as Field)
  const next = fields.value.slice(here + 1).find((f) => f !== 'rpm' && typed.value[f].trim() === '')
  if (next) fieldOf(next)?.focus()
  else void keep()
}

function wrongOnes() {
  const wrong: typeof faults.value = {}
  for (const field of fields.value) {
    const text = typed.value[field].trim()
    if (field === 'rpm' && text === '') continue
    if (text === '') wrong[field] = says('still-empty')
    else if (!(figureOf(text)! >= 0)) wrong[field] = noFigure(text)
  }
  return wrong
}

/** A refusal named by the server, at the field that it is of. */
function place(at: string, face: number): Field {
  if (at.startsWith('/flicker/held')) return 'held'
  if (at.startsWith('/beats')) return 'pulses'
  if (at.startsWith('/seconds')) return 'seconds'
  if (at.startsWith('/rpm')) return 'rpm'
  return faceFields[face - 1]!
}

/** Goes to the first field that something is wrong with. */
function toFault() {
  const at = fields.value.find((f) => faults.value[f])
  if (at) fieldOf(at)?.focus()
  return at !== undefined
}

const starter = useCrank(props.work, current)
function crankOrStop() {
  if (starter.running.value) starter.stop()
  else if (sheet.value!.session.open) starter.start()
}
useSeat(props.work, () => {
  const common = { cylinder: current.value }
  const { pedal, seconds, most_s } = starter.crank.value
  if (starter.running.value) return { ...common, do: 'crank', line: pedal, seconds, most_s }
  if (prompt.value?.cylinder === 0 && !some.value) return { ...common, do: 'done', line: says('all-rotors-read') }
  return { ...common, do: 'wait', line: says('next-rotor', { current: current.value }) }
})

/** A gauge that speaks: with its valve in it gives the held peak; without it the three faces, when each has come by a few times. */
const live = useGauge(unit)
const enoughPulses = 12
const there = computed(() => {
  const now = live.now.value
  if (!live.speaks.value || now?.phase !== 'settled' || some.value || !sheet.value!.session.open) return 0
  if (live.heard.value?.kind === 'bare' && (now.beats ?? 0) < enoughPulses) return 0
  return live.hands.value && prompt.value?.cylinder !== 0 ? now.pull! : 0
})
watch(there, (pull) => pull && void takeLive(pull))
async function takeLive(pull: number) {
  const of = current.value
  const seconds = starter.take(of)
  const name = live.heard.value?.name
  const took = await live.take(props.work.engine, of, pull)
  if (typeof took === 'string') return
  if (live.heard.value?.kind === 'valve') {
    typed.value.held = String(live.now.value?.reading ?? '')
    return
  }
  const { pulls, trace } = took
  if (pulls?.length !== 3) {
    faults.value = { face1: says('faces-not-apart') }
    return sound('look')
  }
  const common = { mode: 'dry' as const, tester: sheet.value?.session.gauge, note: says('from', { name }), seconds }
  const outcomes = await props.work.enterAll(
    'pull',
    pulls.map((p) => ({ ...p, ...common })),
  )
  chosen.value = undefined
  sound(outcomes.some((o) => o.is === 'refused') ? 'look' : 'kept')
  if (trace) await props.work.enterAll('look', [noteOf(trace, { rotor: of })])
}

const keeping = ref(false)
async function keep() {
  if (keeping.value && !some.value) return
  if (!some.value && prompt.value?.cylinder === 0) return emit('done')
  faults.value = wrongOnes()
  if (toFault()) return
  keeping.value = true
  const was = { ...typed.value }
  const of = current.value
  // The fields are the next rotor's at once: what is typed while this one is on its way stays, and is not of this one.
  typed.value = { ...empty(), seconds: was.seconds }
  const after = rotors.value.find((r) => r.rotor > of && !r.settled)?.rotor
  chosen.value = after ?? of
  first()
  const pulses = faceFields.map((f) => figureOf(was[f])!)
  const common = { rotor: of, mode: 'dry' as const, unit: unit.value, tester: sheet.value?.session.gauge }
  const bodies = pulses.map((pulse, i) =>
    filmed.value
      ? {
          ...common,
          face: i + 1,
          beats: figureOf(was.pulses),
          seconds: figureOf(was.seconds),
          flicker: { pulse, highest: Math.max(...pulses), held: figureOf(was.held)! },
        }
      : { ...common, face: i + 1, value: pulse, ...(was.rpm.trim() ? { rpm: figureOf(was.rpm) } : {}) },
  )
  const outcomes = await props.work.enterAll('pull', bodies)
  keeping.value = false
  const refused = outcomes.filter((o) => o.is === 'refused')
  // A refused film comes back into its fields, marked; if another is being typed, it stays in the outbox.
  const back = refused.length > 0 && !some.value
  if (back) typed.value = was
  sound(refused.length ? 'look' : 'kept')
  for (const o of refused) {
    const face = outcomes.indexOf(o) + 1
    for (const f of o.answer?.faults ?? [{ at: o.answer?.field ?? '', what: o.answer?.why ?? says('not-saved') }])
      if (back) faults.value[place(f.at, face)] ??= f.what
    if (back) await drop(o.entry.id)
  }
  if (refused.length) {
    // Those of its faces that were kept stand with a film that was refused: they go with it.
    for (const o of outcomes.filter((o) => o.is !== 'refused'))
      await props.work.strike(o.entry.id, says('refused-with-rotor'))
    if (!back) return
    chosen.value = of
    await nextTick()
    return void toFault()
  }
  // The sheet says which rotor is next, unless one is being typed; while the server is away nobody does.
  if (!some.value && !outcomes.some((o) => o.is === 'waiting')) chosen.value = undefined
}

const marks = useMarks(props.work, (r) => {
  chosen.value = r
  first()
})
function pick(r: number) {
  chosen.value = r
  first()
}
function move(by: number) {
  const order = rotors.value.map((r) => r.rotor)
  chosen.value = order[(order.indexOf(current.value) + by + order.length) % order.length]
}
function leave() {
  if (some.value) typed.value = empty()
  else emit('leave')
}
const next = computed(() =>
  rotor.value && prompt.value?.cylinder !== current.value && chosen.value
    ? says('next-rotor-here', { current: current.value, place: rotor.value.place })
    : prompt.value?.say,
)
watch(next, (words) => say(words ?? ''))

useKeys([
  { keys: ['Enter'], does: says('next-field-last-save-rotor') },
  { keys: [' '], does: says('starter-crank-stop'), run: crankOrStop },
  {
    keys: ['f'],
    does: says('faces-read-one-one-or'),
    run: () => (filmed.value = !filmed.value),
  },
  { keys: ['u'], does: says('gauges-unit'), run: () => (unit.value = unitAfter(unit.value)) },
  { keys: ['ArrowRight'], does: says('next-rotor-2'), run: () => move(1) },
  { keys: ['ArrowLeft'], does: says('previous-rotor'), run: () => move(-1) },
  { keys: ['Escape'], does: says('clear-what-typed-if-nothing'), run: leave },
])
const bores = computed(() => boresOf(sheet.value!))
</script>

<template>
  <div
    v-if="sheet && rotor"
    class="grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-6 pt-3 pb-8 lg:grid-cols-[minmax(0,11fr)_minmax(0,9fr)]"
  >
    <section :aria-label="says('reading')" class="min-w-0">
      <h2 class="text-xl leading-tight font-medium sm:text-2xl" aria-live="polite" data-prompt>{{ next }}</h2>
      <p v-if="prompt?.cylinder === 0" class="mt-1 text-xl" data-sentence>{{ sheet.verdict.sentence }}</p>
      <div class="mt-2 flex items-end gap-x-5">
        <p class="figures text-[3.6rem] leading-none font-semibold sm:text-[7rem]" data-current>{{ current }}</p>
        <p class="text-lg leading-snug text-soft sm:pb-2">
          {{ rotor.place }}<br />
          <template v-if="rotor.faces[0]?.baseline"
            >{{ says('baseline-2') }} <b class="figures text-ink">{{ rotor.faces[0].baseline.value }}</b>
            {{ says('face') }}</template
          >
        </p>
        <CrankButton class="ml-auto shrink-0 max-[20rem]:hidden" :starter="starter" @press="crankOrStop" />
      </div>
      <p class="mt-2 text-[0.9rem] text-soft">
        {{
          says('one-plug-rotor-out-other', {
            engine: madeSafe(sheet.engine),
            seconds: filmed ? says('first-with-valve-for-held') : says('crank-five-seconds'),
          })
        }}
      </p>

      <LiveNeedle class="mt-2" :live="live" @hands="first" />
      <fieldset class="mt-3 flex flex-wrap gap-2">
        <legend class="sr-only">{{ says('how-faces-read') }}</legend>
        <button type="button" class="choice min-h-11" :aria-pressed="filmed" @click="filmed = true">
          {{ says('needle-filmed') }}
        </button>
        <button type="button" class="choice min-h-11" :aria-pressed="!filmed" @click="filmed = false">
          {{ says('each-face-shown') }}
        </button>
        <select v-model="unit" class="field w-auto" :aria-label="says('unit')">
          <option v-for="u in pressureUnits" :key="u">{{ u }}</option>
        </select>
      </fieldset>

      <form ref="form" class="mt-3 max-w-2xl" novalidate autocomplete="off" @submit.prevent="keep">
        <div v-if="filmed" class="grid grid-cols-3 gap-3">
          <label v-for="(words, field) in film" :key="field" class="text-soft"
            >{{ words }}
            <input
              v-model="typed[field]"
              :name="field"
              class="field figures text-2xl"
              :inputmode="field === 'pulses' ? 'numeric' : 'decimal'"
              :aria-invalid="!!faults[field]"
              @keydown.enter.prevent="onward"
          /></label>
        </div>
        <div class="mt-3 grid grid-cols-3 gap-3">
          <label v-for="(field, i) in faceFields" :key="field" class="text-soft"
            >{{ filmed ? says('flicker', { n: i + 1 }) : says('face-2', { face: i + 1 }) }}
            <input
              v-model="typed[field]"
              :name="field"
              class="field figures border-b-4 border-b-verdigris text-[2.4rem] leading-tight sm:text-[3.4rem]"
              inputmode="decimal"
              :aria-invalid="!!faults[field]"
              @keydown.enter.prevent="onward"
          /></label>
        </div>
        <label v-if="!filmed" class="mt-3 block w-40 text-soft"
          >{{ says('cranked-at-rpm') }}
          <input
            v-model="typed.rpm"
            name="rpm"
            class="field figures"
            inputmode="numeric"
            :placeholder="says('not-saved-2')"
            :aria-invalid="!!faults.rpm"
            @keydown.enter.prevent="onward"
        /></label>
        <p v-for="(what, field) in faults" :key="field" class="mt-2 font-semibold" role="alert" data-fault>
          {{ called[field] ?? says('face-3', { face: String(field)[4] }) }}: {{ what }}
        </p>
        <div class="mt-4 flex gap-3">
          <button class="button-main min-h-12 grow text-xl" :disabled="keeping" data-keep>
            {{ prompt?.cylinder === 0 && !some ? says('next') : says('save-rotor', { current }) }}
            <KeyCap class="max-sm:hidden">{{ says('enter') }}</KeyCap>
          </button>
        </div>
      </form>
      <p class="mt-3 text-soft">
        {{ says('any-face-may-come-first') }}
      </p>
    </section>

    <section :aria-label="says('all-rotors')" class="min-w-0">
      <BorePlan
        :layout="sheet.engine.layout"
        :bores="bores"
        :current="current"
        class="max-lg:hidden"
        :style="{ maxWidth: `${(sheet.engine.layout.rotors ?? 1) * 190}px` }"
        @pick="pick"
      />
      <RotorTable
        class="mt-4"
        :rotors="rotors"
        :unit="sheet.unit"
        :current="current"
        @pick="pick"
        @reading="
          (pull, r, face) =>
            marks.ask(pull, says('rotor-face', { value: pull.value, unit: pull.unit, rotor: r, face }), r)
        "
      />
      <TraceList :work="work" :number="current" :unit="unit" />
      <p v-for="w in sheet.warnings" :key="w" class="mt-3 border-l-4 border-watch pl-3" data-warning>{{ w }}</p>
      <p v-for="c in sheet.verdict.caveats" :key="c" class="mt-3 border-l-4 border-rule pl-3" data-caveat>{{ c }}</p>
    </section>
    <MarkDialog :marks="marks" />
  </div>
</template>
