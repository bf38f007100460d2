<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import BorePlan from '@/components/BorePlan.vue'
import KeyCap from '@/components/KeyCap.vue'
import Schools from '@/components/Schools.vue'
import { useKeys } from '@/composables/useKeys'
import { drop } from '@/outbox/useOutbox'
import { usePulls, type Mode, type Work } from '@/composables/useSheet'
import { boresOf } from './bores'
import { stopWhen } from './cranking'
import KeyPad from './KeyPad.vue'
import PullTable from './PullTable.vue'
import StrikeDialog from './StrikeDialog.vue'

const props = defineProps<{ work: Work; mode: Mode }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const { sheet } = props.work
const pulling = usePulls(props.work, props.mode)
const { cells, current, prompt, last } = pulling

// What is known beside the reading, where somebody looks at it.
const volts = ref('')
const beats = useLocalStorage('braxel.beats', '')
const rpm = ref('')
const oil = ref('5')
const figure = (text: string) => (Number(text) > 0 ? Number(text) : undefined)
const known = computed(() => ({
  beats: figure(beats.value),
  rpm: figure(rpm.value),
  battery_v: figure(volts.value.replace(',', '.')),
  ...(props.mode === 'wet' ? { oil_cc: figure(oil.value.replace(',', '.')) } : {}),
}))

const typed = ref('')
watch(() => typed.value !== '', pulling.hold)
const fault = ref('')
const striking = ref<{ key: string; words: string }>()
const input = useTemplateRef<HTMLInputElement>('input')
const units = ['psi', 'kPa', 'bar', 'kgf/cm2'] as const
const unit = ref<(typeof units)[number]>('psi')
watch(
  () => sheet.value?.unit,
  (u) => u && (unit.value = u),
  { immediate: true },
)

const cell = computed(() => cells.value.find((c) => c.cylinder === current.value))
const pulls = computed(() => cell.value?.pulls ?? [])
/** A pull of this cylinder that is on record and counts for nothing until somebody says that it is as read. */
const doubted = computed(() => pulls.value.filter((p) => !p.struck && p.doubt).at(-1))

async function keep() {
  const text = typed.value.replace(',', '.').trim()
  if (text === '' && doubted.value?.key) return props.work.asRead(doubted.value.key)
  if (text === '') return prompt.value?.cylinder === 0 && emit('done')
  const value = Number(text)
  if (!Number.isFinite(value) || value < 0) {
    fault.value = `“${typed.value}” is not a reading: type a figure such as 151`
    return
  }
  const cylinder = current.value
  typed.value = ''
  fault.value = ''
  const { is, answer, entry } = await pulling.pull(value, unit.value, known.value)
  // A figure that is refused comes back into its field, marked; if another is being typed, it stays in the outbox.
  if (is !== 'refused' || typed.value !== '') return
  typed.value = text
  fault.value = answer?.why ?? 'not kept'
  pulling.choose(cylinder)
  await drop(entry.id)
}

/** Takes the last pull back: its figure returns to the field, and the pull is struck. */
async function takeBack() {
  const pull = cells.value
    .flatMap((c) => c.pulls.map((p) => ({ ...p, cylinder: c.cylinder })))
    .find((p) => p.key === last.value)
  if (!pull?.key) return
  await props.work.strike(pull.key, 'taken back')
  pulling.choose(pull.cylinder)
  typed.value = String(pull.value)
}

function askStrike() {
  const pull = pulls.value.filter((p) => !p.struck && p.key).at(-1)
  if (pull?.key) striking.value = { key: pull.key, words: `${pull.value} ${pull.unit} of cylinder ${current.value}` }
}

async function strike(why: string) {
  const key = striking.value!.key
  const cylinder = current.value
  striking.value = undefined
  await props.work.strike(key, why)
  pulling.choose(cylinder)
  input.value?.focus()
}

function press(event: KeyboardEvent) {
  if (event.key === 'Backspace' && typed.value === '') {
    event.preventDefault()
    void takeBack()
  }
}

/** A digit typed while nothing has the focus goes into the field. */
function typeIn(event: KeyboardEvent) {
  typed.value += event.key
  input.value?.focus()
}

function leave() {
  if (typed.value === '') emit('leave')
  else typed.value = ''
}

useKeys([
  { keys: ['0…9'], does: 'the reading' },
  { keys: [...'0123456789.'], does: '', run: typeIn },
  { keys: ['Enter'], does: 'keep it, go on', run: () => void keep(), inFields: true },
  { keys: ['Backspace'], does: 'in an empty field: take the last pull back' },
  { keys: ['x'], does: 'strike the last pull of this cylinder, with a reason', run: askStrike, inFields: true },
  { keys: ['ArrowRight', 'ArrowDown'], does: 'next cylinder', run: () => pulling.move(1), inFields: true },
  { keys: ['ArrowLeft', 'ArrowUp'], does: 'cylinder before', run: () => pulling.move(-1), inFields: true },
  { keys: ['Escape'], does: 'clear the field; when it is empty, leave the sheet', run: leave, inFields: true },
])
onMounted(() => input.value?.focus())
watch(current, () => nextTick(() => document.activeElement === document.body && input.value?.focus()))

const bores = computed(() => boresOf(sheet.value!))
function pick(cylinder: number) {
  pulling.choose(cylinder)
  input.value?.focus()
}
</script>

<template>
  <p v-if="sheet && cells.length === 0" class="py-6 text-xl">
    No cylinder is low: no wet test is asked for. <button class="link min-h-11" @click="$emit('done')">Go on</button>
  </p>
  <div v-else-if="sheet && cell" class="grid gap-x-10 gap-y-6 pt-3 pb-8 lg:grid-cols-[minmax(0,11fr)_minmax(0,9fr)]">
    <section aria-label="Reading">
      <h2 class="text-2xl font-medium" aria-live="polite" data-prompt>{{ prompt?.say }}</h2>
      <p v-if="sheet.verdict.remark" role="status" class="mt-1 border-l-4 border-watch pl-3 text-lg" data-remark>
        {{ sheet.verdict.remark }}
      </p>
      <p v-if="mode === 'dry' && prompt?.cylinder === 0" class="mt-1 text-xl" data-sentence>
        {{ sheet.verdict.sentence }}
      </p>

      <div class="mt-3 flex items-end gap-x-6">
        <p class="figures text-[5rem] leading-none font-semibold sm:text-[9rem]" data-current>{{ current }}</p>
        <p class="pb-3 text-lg text-soft">
          <b v-if="cell.name" class="text-ink">{{ cell.name }}, </b>{{ cell.place }}<br />
          <template v-if="cell.baseline"
            >baseline <b class="figures text-ink">{{ cell.baseline.value }}</b></template
          >
          <template v-if="cell.last"
            >, last <b class="figures text-ink">{{ cell.last.value }}</b></template
          >
        </p>
      </div>

      <label class="mt-2 block sm:mt-4">
        <span class="flex items-center gap-3 font-semibold">
          pull {{ pulls.filter((p) => !p.struck).length + pulling.waitingFor(current).length + 1 }}
          <select
            v-model="unit"
            class="field w-auto font-normal"
            aria-label="Unit"
            tabindex="-1"
            @change="input?.focus()"
          >
            <option v-for="u in units" :key="u">{{ u }}</option>
          </select>
        </span>
        <input
          ref="input"
          v-model="typed"
          :aria-label="`Reading of cylinder ${current}, ${unit}`"
          :aria-invalid="fault !== ''"
          inputmode="none"
          autocomplete="off"
          class="figures mt-1 w-full max-w-md border-b-4 border-verdigris bg-transparent text-[3.4rem] leading-tight font-semibold caret-verdigris outline-none aria-invalid:border-act sm:text-[5.5rem]"
          @keydown="press"
          @input="fault = ''"
        />
      </label>
      <div class="min-h-8 text-lg" aria-live="assertive">
        <p v-if="doubted" class="font-semibold" data-doubt>
          {{ doubted.doubt }} {{ doubted.value }} is on record and does not count yet. Enter says it is as read; or pull
          again.
        </p>
        <p v-else-if="fault" class="font-semibold text-act dark:text-ink" data-fault>{{ fault }}</p>
      </div>

      <KeyPad
        class="mt-2 max-w-md lg:hidden"
        @digit="typed += $event"
        @back="typed === '' ? takeBack() : (typed = typed.slice(0, -1))"
      />
      <div class="mt-3 flex max-w-2xl flex-wrap gap-3">
        <button class="button-main min-h-14 grow text-xl" @click="keep">
          {{ doubted && !typed ? 'It is as read' : prompt?.cylinder === 0 && !typed ? 'Go on' : 'Keep it' }}
          <KeyCap class="max-sm:hidden">Enter</KeyCap>
        </button>
        <button class="button-plain min-h-14" :disabled="!pulls.some((p) => !p.struck)" @click="askStrike">
          Strike <KeyCap class="max-sm:hidden">x</KeyCap>
        </button>
        <button class="button-plain min-h-14" :disabled="!last" @click="takeBack">Take back</button>
      </div>
      <details class="mt-3">
        <summary class="min-h-11 content-center text-soft">Beats, volts, cranking speed</summary>
        <div class="flex flex-wrap gap-3">
          <label class="text-soft"
            >beats <input v-model="beats" class="field figures w-20" inputmode="numeric"
          /></label>
          <label class="text-soft"
            >battery, V <input v-model="volts" class="field figures w-24" inputmode="decimal"
          /></label>
          <label class="text-soft">rpm <input v-model="rpm" class="field figures w-24" inputmode="numeric" /></label>
        </div>
      </details>
      <p v-if="mode === 'dry'" class="mt-2 text-[0.9rem] text-soft">
        Crank {{ stopWhen(sheet.session.conditions?.cranking) }}. Fuel off, spark off, throttle wide open. Vent the
        gauge after each pull.
      </p>
      <template v-else>
        <label class="mt-2 flex items-center gap-3 text-soft"
          >oil put in, cm³ <input v-model="oil" class="field figures w-20" inputmode="decimal"
        /></label>
        <p class="mt-2 border-l-4 border-watch pl-3">
          {{
            sheet.engine.fuel === 'diesel'
              ? 'A diesel can fire on the oil: do not oil it unless you know how.'
              : 'Oil can lock or fire a hot cylinder: a teaspoon, and crank it clear before it is started.'
          }}
        </p>
      </template>
    </section>

    <section aria-label="All cylinders">
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
      />
      <ul v-if="mode === 'wet'" class="mt-4 grid gap-1">
        <li v-for="c in sheet.wet.filter((w) => w.says)" :key="c.cylinder">
          <b class="figures">{{ c.cylinder }}</b> rose <b class="figures">{{ c.gain_pct!.toFixed(0) }} %</b
          ><template v-if="c.oil_pct !== undefined">, oil alone up to {{ c.oil_pct.toFixed(0) }} %</template
          ><template v-if="c.siblings_pct !== undefined">, the others {{ c.siblings_pct.toFixed(0) }} %</template>:
          {{ c.says }}.
        </li>
      </ul>
      <p v-for="w in sheet.warnings" :key="w" class="mt-3 border-l-4 border-watch pl-3" data-warning>{{ w }}</p>
      <template v-if="mode === 'dry'">
        <p v-for="c in sheet.verdict.caveats" :key="c" class="mt-3 border-l-4 border-rule pl-3" data-caveat>{{ c }}</p>
        <Schools v-if="prompt?.cylinder === 0 && sheet.evenness.length" class="mt-6" :judgements="sheet.evenness" />
      </template>
    </section>
    <StrikeDialog :what="striking?.words" @close="striking = undefined" @strike="strike" />
  </div>
</template>
