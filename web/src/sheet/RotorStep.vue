<script setup lang="ts">
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import FigureInput from '@/components/FigureInput.vue'
import KeyCap from '@/components/KeyCap.vue'
import { say, sound } from '@/composables/useSound'
import type { Work } from '@/composables/useSheet'
import AllPlaces from './AllPlaces.vue'
import CrankButton from './CrankButton.vue'
import { madeSafe } from './cranking'
import KeyPad from './KeyPad.vue'
import FilmDial, { type Filmed } from '@/film/FilmDial.vue'
import { filmedNote, keepFilm } from '@/film/keep'
import LiveNeedle from './LiveNeedle.vue'
import MarkDialog from './MarkDialog.vue'
import PlaceNow from './PlaceNow.vue'
import RotorTable from './RotorTable.vue'
import TraceList from './TraceList.vue'
import { noteOf } from './traces'
import UnitSelect from './UnitSelect.vue'
import { useCrank } from './useCrank'
import { useCrankSeat } from './useCrankSeat'
import { useEntering } from './useEntering'
import { useEntryKeys } from './useEntryKeys'
import { called, faceFields, offered, useFaces, type Field } from './useFaces'
import { useLiveFaces } from './useLiveFaces'
import { useMarks } from './useMarks'
import { useRow } from './useRow'
import { useUnit } from './useUnit'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

const props = defineProps<{ work: Work }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const { sheet } = props.work

const faces = useFaces(props.work)
const { filmed, typed, values, faults, some, fields } = faces
const unit = useUnit(() => sheet.value?.unit)
const rotors = computed(() => sheet.value?.rotors ?? [])
const prompt = computed(() => sheet.value?.prompt)
const waitsFor = (r: number) => props.work.waiting('pull').some((e) => e.body.rotor === r)
const row = useRow({
  order: () => rotors.value.map((r) => r.rotor),
  asked: () => prompt.value?.cylinder ?? 0,
  waits: () => props.work.waiting('pull').length > 0,
  enough: (n) => waitsFor(n) || rotors.value.find((r) => r.rotor === n)!.settled,
  entering: () => some.value,
})
const { current } = row
const rotor = computed(() => rotors.value.find((r) => r.rotor === current.value))
const next = computed(() =>
  rotor.value && prompt.value?.cylinder !== current.value && prompt.value?.cylinder !== 0
    ? says('next-rotor-here', { current: current.value, place: rotor.value.place })
    : prompt.value?.say,
)
watch(next, (words) => say(words ?? ''))

const starter = useCrank(props.work, current)
function crankOrStop() {
  if (starter.running.value) starter.stop()
  else if (sheet.value!.session.open) starter.start()
}
const { kept, handIn } = useEntering(() => !some.value)
useCrankSeat(props.work, starter, {
  current,
  kept,
  done: () => (prompt.value?.cylinder === 0 && !some.value ? says('all-rotors-read') : undefined),
  next: () => says('next-rotor', { current: current.value }),
})

const live = useLiveFaces(props.work, unit, {
  current,
  wanted: () => !some.value && prompt.value?.cylinder !== 0,
  starter,
  peak: (value) => (values.held.value = String(value)),
  faces: async (of, { pulls, trace }, name, seconds) => {
    if (pulls?.length !== 3) {
      faults.value = { face1: says('faces-not-apart') }
      return sound('look')
    }
    const common = { mode: 'dry' as const, tester: sheet.value?.session.gauge, note: says('from', { name }), seconds }
    const bodies = pulls.map((p) => ({ ...p, ...common }))
    await handIn(props.work.enterAll('pull', bodies), says('rotor-saved', { rotor: of }), () => undefined)
    row.choose(undefined)
    if (trace) await props.work.enterAll('look', [noteOf(trace, { rotor: of })])
  },
})

/** A film of the gauge without its valve gives the three faces; one with it the held peak, for its field. */
async function filmedFaces({ value, sd, found, picture }: Filmed) {
  const of = current.value
  const pulls = found?.pulls ?? []
  if (pulls.length !== 3) {
    values.held.value = String(value)
    return
  }
  const note = filmedNote(sd, unit.value)
  const common = { mode: 'dry' as const, tester: sheet.value?.session.gauge, note, seconds: starter.take(of) }
  await handIn(
    props.work.enterAll(
      'pull',
      pulls.map((p) => ({ ...p, ...common })),
    ),
    says('rotor-saved', { rotor: of }),
    () => undefined,
  )
  row.choose(undefined)
  await keepFilm(props.work, { rotor: of }, note, found, picture)
}

/** Enter goes from a field that is filled to the next that is empty; when none is, the rotor is saved. It never passes one over. */
function onward() {
  if (!some.value && prompt.value?.cylinder === 0) return emit('done')
  if (faces.stillEmpty()) return
  const to = faces.emptyAfter()
  if (to) fields.focus(to)
  else void keep()
}

const keeping = ref(false)
async function keep() {
  if (keeping.value && !some.value) return
  if (!some.value && prompt.value?.cylinder === 0) return emit('done')
  if (faces.check()) return
  keeping.value = true
  const was = { ...typed.value }
  const of = current.value
  const common = { rotor: of, mode: 'dry' as const, unit: unit.value, tester: sheet.value?.session.gauge }
  const bodies = faces.bodies().map((b) => ({ ...common, ...b }))
  // The fields are the next rotor's at once: what is typed while this one is on its way stays, and is not of this one.
  faces.clear()
  row.choose(rotors.value.find((r) => r.rotor > of && !r.settled)?.rotor ?? of)
  void nextTick(faces.first)
  const going = props.work.enterAll('pull', bodies)
  const { outcomes, refused, back } = await handIn(going, says('rotor-saved', { rotor: of }), () => (typed.value = was))
  keeping.value = false
  if (refused.length) {
    // Those of its faces that were kept stand with a film that was refused: they go with it.
    for (const o of outcomes.filter((o) => o.is !== 'refused'))
      await props.work.strike(o.entry.id, says('refused-with-rotor'))
    if (!back) return
    for (const o of refused) faces.refuse(o.answer, outcomes.indexOf(o) + 1)
    row.choose(of)
    await nextTick()
    return void faces.toFault()
  }
  // The sheet says which rotor is next, unless one is being typed.
  if (!some.value) row.choose(undefined)
}

function pick(r: number) {
  row.choose(r)
  faces.first()
}
const marks = useMarks(props.work, pick)
const askOf = (pull: Schemas['Pull'], r: number, face: number) =>
  marks.ask(pull, says('rotor-face', { value: pull.value, unit: pull.unit, rotor: r, face }), r)
function askStrike() {
  const all = rotor.value?.faces.flatMap((f) => f.pulls.map((p) => ({ pull: p, face: f.face }))) ?? []
  const last = all.filter(({ pull }) => pull.key && !pull.struck).at(-1)
  if (last) askOf(last.pull, current.value, last.face)
}
/** Half-typed faces stay with their rotor. */
function move(by: number) {
  if (!some.value) row.move(by)
}
function clear() {
  if (some.value) faces.clear()
  else emit('leave')
}

useEntryKeys({
  figure: says('faces-comma-as-good-as'),
  own: [{ keys: ['f'], does: says('faces-read-one-one-or'), run: () => (filmed.value = !filmed.value) }],
  enter: { does: says('next-field-last-save-rotor'), run: onward },
  space: { does: says('starter-crank-stop'), run: crankOrStop },
  unit: { does: says('gauges-unit'), get: () => unit.value, set: (u) => (unit.value = u) },
  strike: { does: says('strike-last-face-rotor'), run: askStrike },
  back: { does: says('delete-digit'), run: fields.back },
  next: says('next-rotor-2'),
  previous: says('previous-rotor'),
  leave: says('clear-what-typed-if-nothing'),
  digit: fields.digit,
  focus: fields.focus,
  move,
  clear,
})
onMounted(faces.first)
const size = (f: Field) => (f.startsWith('face') ? 'text-[2.4rem] sm:text-[3.4rem]' : 'text-2xl')
</script>

<template>
  <div
    v-if="sheet && rotor"
    class="grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-6 pt-3 pb-8 lg:grid-cols-[minmax(0,11fr)_minmax(0,9fr)]"
  >
    <section :aria-label="says('reading')" class="min-w-0">
      <h2 class="text-xl leading-tight font-medium sm:text-2xl" aria-live="polite" data-prompt>{{ next }}</h2>
      <p v-if="prompt?.cylinder === 0" class="mt-1 text-xl" data-sentence>{{ sheet.verdict.sentence }}</p>
      <PlaceNow
        :number="current"
        :name="rotor.name"
        :place="rotor.place"
        :baseline="rotor.faces[0]?.baseline && String(rotor.faces[0].baseline.value)"
        :after="says('face')"
      >
        <CrankButton class="ml-auto shrink-0 max-[20rem]:hidden" :starter="starter" @press="crankOrStop" />
      </PlaceNow>
      <p class="mt-2 text-[0.9rem] text-soft">
        {{
          says('one-plug-rotor-out-other', {
            engine: madeSafe(sheet.engine),
            seconds: filmed ? says('first-with-valve-for-held') : says('crank-five-seconds'),
          })
        }}
      </p>

      <FilmDial :work="work" :number="current" :unit="unit" kind="bare" @filmed="filmedFaces" />
      <LiveNeedle class="mt-2" :live="live" @hands="faces.first" />
      <fieldset class="mt-3 flex flex-wrap gap-2">
        <legend class="sr-only">{{ says('how-faces-read') }}</legend>
        <button type="button" class="choice min-h-11" :aria-pressed="filmed" @click="filmed = true">
          {{ says('needle-filmed') }}
        </button>
        <button type="button" class="choice min-h-11" :aria-pressed="!filmed" @click="filmed = false">
          {{ says('each-face-shown') }}
        </button>
        <UnitSelect v-model="unit" />
      </fieldset>

      <div class="mt-3 grid max-w-2xl grid-cols-3 gap-3" data-entry>
        <label v-for="f in faces.order.value" :key="f" class="text-soft"
          >{{
            filmed && f.startsWith('face') ? says('flicker', { n: faceFields.indexOf(f as 'face1') + 1 }) : called[f]
          }}
          <FigureInput
            :ref="fields.input(f)"
            v-model="values[f].value"
            :name="f"
            :data-offers="offered[f]"
            class="border-b-4 leading-tight text-ink"
            :class="[size(f), fields.at.value === f ? 'border-verdigris' : 'border-rule']"
            :aria-invalid="!!faults[f]"
            @focus="fields.take(f)"
            @typed="fields.wrote"
            @unit="(u) => (unit = u)"
            @unread="(said) => (faults[f] = said)"
          />
        </label>
        <p v-for="(what, f) in faults" :key="f" class="col-span-3 font-semibold" role="alert" data-fault>
          {{ called[f] }}: {{ what }}
        </p>
      </div>
      <KeyPad class="mt-2 max-w-md lg:hidden" @digit="fields.digit" @back="fields.back" />
      <button class="button-main mt-4 min-h-12 w-full max-w-2xl text-xl" :disabled="keeping" data-keep @click="keep">
        {{ prompt?.cylinder === 0 && !some ? says('next') : says('save-rotor', { current }) }}
        <KeyCap class="max-sm:hidden">{{ says('enter') }}</KeyCap>
      </button>
      <p class="mt-3 text-soft">
        {{ says('any-face-may-come-first') }}
      </p>
    </section>

    <AllPlaces :aria-label="says('all-rotors')" :sheet="sheet" :current="current" :wide="190" caveats @pick="pick">
      <RotorTable :rotors="rotors" :unit="sheet.unit" :current="current" @pick="pick" @reading="askOf" />
      <TraceList :work="work" :number="current" :unit="unit" />
    </AllPlaces>
    <MarkDialog :marks="marks" />
  </div>
</template>
