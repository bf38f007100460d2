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
import { madeSafe } from './cranking'
import MarkDialog from './MarkDialog.vue'
import RotorTable from './RotorTable.vue'
import TraceList from './TraceList.vue'
import { useMarks } from './useMarks'

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
const empty = () => ({ held: '', pulses: '', seconds: '5', faces: ['', '', ''], rpm: '' })
const typed = useSessionStorage(`braxel.faces.${props.work.engine}.${props.work.session}`, empty())
const unit = ref<(typeof pressureUnits)[number]>('psi')
watch(
  () => sheet.value?.unit,
  (u) => u && (unit.value = u),
  { immediate: true },
)
const faults = ref<Record<string, string>>({})
const form = useTemplateRef('form')
const some = computed(() => [typed.value.held, typed.value.pulses, ...typed.value.faces].some((t) => t !== ''))

/** What each field that has to be filled is called, in the order in which they are typed. */
const fields = computed(() =>
  filmed.value ? ['held', 'pulses', 'seconds', 'face1', 'face2', 'face3'] : ['face1', 'face2', 'face3', 'rpm'],
)
const textOf = (field: string) =>
  field.startsWith('face')
    ? typed.value.faces[Number(field[4]) - 1]!
    : typed.value[field as 'held' | 'pulses' | 'seconds' | 'rpm']

const called: Record<string, string> = { held: 'held peak', pulses: 'pulses', seconds: 'seconds', rpm: 'cranked at' }
const fieldOf = (name: string) => form.value?.querySelector<HTMLInputElement>(`[name=${name}]`)
const first = () => void nextTick(() => fieldOf(fields.value[0]!)?.focus())
onMounted(first)

/** Enter goes to the next field that is empty; when none is, the rotor is kept. */
function onward(event: Event) {
  const here = fields.value.indexOf((event.target as HTMLInputElement).name)
  const next = fields.value.slice(here + 1).find((f) => f !== 'rpm' && textOf(f).trim() === '')
  if (next) fieldOf(next)?.focus()
  else void keep()
}

function wrongOnes(): Record<string, string> {
  const wrong: Record<string, string> = {}
  for (const field of fields.value) {
    const text = textOf(field).trim()
    if (field === 'rpm' && text === '') continue
    if (text === '') wrong[field] = 'still empty'
    else if (!(figureOf(text)! >= 0)) wrong[field] = noFigure(text)
  }
  return wrong
}

/** A refusal named by the server, at the field that it is of. */
function place(at: string, face: number): string {
  if (at.startsWith('/flicker/held')) return 'held'
  if (at.startsWith('/beats')) return 'pulses'
  if (at.startsWith('/seconds')) return 'seconds'
  if (at.startsWith('/rpm')) return 'rpm'
  return `face${face}`
}

const keeping = ref(false)
async function keep() {
  if (keeping.value) return
  if (!some.value && prompt.value?.cylinder === 0) return emit('done')
  faults.value = wrongOnes()
  const at = Object.keys(faults.value)[0]
  if (at) return void fieldOf(at)?.focus()
  keeping.value = true
  const was = JSON.parse(JSON.stringify(typed.value)) as typeof typed.value
  const of = current.value
  const pulses = was.faces.map((t) => figureOf(t)!)
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
  sound(refused.length ? 'look' : 'kept')
  for (const o of refused) {
    const face = outcomes.indexOf(o) + 1
    for (const f of o.answer?.faults ?? [{ at: o.answer?.field ?? '', what: o.answer?.why ?? 'not kept' }])
      faults.value[place(f.at, face)] ??= f.what
    await drop(o.entry.id)
  }
  if (refused.length) {
    // Those of its faces that were kept stand with a film that was refused: they go with it.
    for (const o of outcomes.filter((o) => o.is !== 'refused'))
      await props.work.strike(o.entry.id, 'refused with its rotor')
    chosen.value = of
    return void fieldOf(Object.keys(faults.value)[0]!)?.focus()
  }
  typed.value = { ...empty(), seconds: was.seconds }
  // While the server is away nobody says which rotor is next: the one after it.
  const after = rotors.value.find((r) => r.rotor > of && !r.settled)?.rotor
  chosen.value = outcomes.some((o) => o.is === 'waiting') ? (after ?? of) : undefined
  first()
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
    ? `next: rotor ${current.value}, ${rotor.value.place}`
    : prompt.value?.say,
)
watch(next, (words) => say(words ?? ''))

useKeys([
  { keys: ['Enter'], does: 'the next field; in the last, keep the rotor' },
  {
    keys: ['f'],
    does: 'faces read one by one, or from a film of the needle',
    run: () => (filmed.value = !filmed.value),
  },
  { keys: ['u'], does: 'the gauge’s unit', run: () => (unit.value = unitAfter(unit.value)) },
  { keys: ['ArrowRight'], does: 'the next rotor', run: () => move(1) },
  { keys: ['ArrowLeft'], does: 'the rotor before', run: () => move(-1) },
  { keys: ['Escape'], does: 'clear what is typed; when nothing is, leave the sheet', run: leave },
])
const bores = computed(() => boresOf(sheet.value!))
</script>

<template>
  <div
    v-if="sheet && rotor"
    class="grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-6 pt-3 pb-8 lg:grid-cols-[minmax(0,11fr)_minmax(0,9fr)]"
  >
    <section aria-label="Reading" class="min-w-0">
      <h2 class="text-xl leading-tight font-medium sm:text-2xl" aria-live="polite" data-prompt>{{ next }}</h2>
      <p v-if="prompt?.cylinder === 0" class="mt-1 text-xl" data-sentence>{{ sheet.verdict.sentence }}</p>
      <div class="mt-2 flex items-end gap-x-5">
        <p class="figures text-[3.6rem] leading-none font-semibold sm:text-[7rem]" data-current>{{ current }}</p>
        <p class="text-lg leading-snug text-soft sm:pb-2">
          {{ rotor.place }}<br />
          <template v-if="rotor.faces[0]?.baseline"
            >was right at <b class="figures text-ink">{{ rotor.faces[0].baseline.value }}</b> a face</template
          >
        </p>
      </div>
      <p class="mt-2 text-[0.9rem] text-soft">
        {{ madeSafe(sheet.engine) }} One plug of this rotor out, its other one stays in.
        {{
          filmed
            ? 'First with the valve in, for the held peak; then with the valve out, five seconds, the needle filmed.'
            : 'Crank five seconds.'
        }}
      </p>

      <fieldset class="mt-3 flex flex-wrap gap-2">
        <legend class="sr-only">How the faces are read</legend>
        <button type="button" class="choice min-h-11" :aria-pressed="filmed" @click="filmed = true">
          needle filmed
        </button>
        <button type="button" class="choice min-h-11" :aria-pressed="!filmed" @click="filmed = false">
          each face shown
        </button>
        <select v-model="unit" class="field w-auto" aria-label="Unit">
          <option v-for="u in pressureUnits" :key="u">{{ u }}</option>
        </select>
      </fieldset>

      <form ref="form" class="mt-3 max-w-2xl" novalidate autocomplete="off" @submit.prevent="keep">
        <div v-if="filmed" class="grid grid-cols-3 gap-3">
          <label class="text-soft"
            >held peak
            <input
              v-model="typed.held"
              name="held"
              class="field figures text-2xl"
              inputmode="decimal"
              :aria-invalid="!!faults.held"
              @keydown.enter.prevent="onward"
          /></label>
          <label class="text-soft"
            >pulses counted
            <input
              v-model="typed.pulses"
              name="pulses"
              class="field figures text-2xl"
              inputmode="numeric"
              :aria-invalid="!!faults.pulses"
              @keydown.enter.prevent="onward"
          /></label>
          <label class="text-soft"
            >in seconds
            <input
              v-model="typed.seconds"
              name="seconds"
              class="field figures text-2xl"
              inputmode="decimal"
              :aria-invalid="!!faults.seconds"
              @keydown.enter.prevent="onward"
          /></label>
        </div>
        <div class="mt-3 grid grid-cols-3 gap-3">
          <label v-for="(_, i) in typed.faces" :key="i" class="text-soft"
            >{{ filmed ? `flicker ${i + 1}` : `face ${i + 1}` }}
            <input
              v-model="typed.faces[i]"
              :name="`face${i + 1}`"
              class="field figures border-b-4 border-b-verdigris text-[2.4rem] leading-tight sm:text-[3.4rem]"
              inputmode="decimal"
              :aria-invalid="!!faults[`face${i + 1}`]"
              @keydown.enter.prevent="onward"
          /></label>
        </div>
        <label v-if="!filmed" class="mt-3 block w-40 text-soft"
          >cranked at, 1/min
          <input
            v-model="typed.rpm"
            name="rpm"
            class="field figures"
            inputmode="numeric"
            placeholder="not taken"
            :aria-invalid="!!faults.rpm"
            @keydown.enter.prevent="onward"
        /></label>
        <p v-for="(what, field) in faults" :key="field" class="mt-2 font-semibold" role="alert" data-fault>
          {{ called[field] ?? `face ${String(field)[4]}` }}: {{ what }}
        </p>
        <div class="mt-4 flex gap-3">
          <button class="button-main min-h-12 grow text-xl" :disabled="keeping" data-keep>
            {{ prompt?.cylinder === 0 && !some ? 'Go on' : `Keep rotor ${current}` }}
            <KeyCap class="max-sm:hidden">Enter</KeyCap>
          </button>
        </div>
      </form>
      <p class="mt-3 text-soft">
        Any face may be the first: nobody can tell which is which from one test to the next, their order round the rotor
        stays.
      </p>
    </section>

    <section aria-label="All rotors" class="min-w-0">
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
        @reading="(pull, r, face) => marks.ask(pull, `${pull.value} ${pull.unit} of rotor ${r}, face ${face}`, r)"
      />
      <TraceList :work="work" :number="current" :unit="unit" />
      <p v-for="w in sheet.warnings" :key="w" class="mt-3 border-l-4 border-watch pl-3" data-warning>{{ w }}</p>
      <p v-for="c in sheet.verdict.caveats" :key="c" class="mt-3 border-l-4 border-rule pl-3" data-caveat>{{ c }}</p>
    </section>
    <MarkDialog :marks="marks" />
  </div>
</template>
