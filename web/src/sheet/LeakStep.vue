<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { api, ask, Refused } from '@/api/client'
import BorePlan from '@/components/BorePlan.vue'
import CrankWheel from '@/components/CrankWheel.vue'
import KeyCap from '@/components/KeyCap.vue'
import { useKeys } from '@/composables/useKeys'
import type { Work } from '@/composables/useSheet'
import { drop } from '@/outbox/useOutbox'
import { boresOf } from './bores'
import KeyPad from './KeyPad.vue'
import LeakTable from './LeakTable.vue'
import PlaceButtons from './PlaceButtons.vue'
import StrikeDialog from './StrikeDialog.vue'
import { toggle } from './places'

type Path = Schemas['Path']

const props = defineProps<{ work: Work }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const sheet = computed(() => props.work.sheet.value!)

const chosen = ref<number>()
const supply = ref('100')
const held = ref('')
const field = ref<'supply' | 'held'>('held')
const byPercent = ref(false)
const position = ref<'tdc' | 'swept' | 'bdc'>('tdc')
const paths = ref<Path[]>()
const armed = ref<Path>()
const asking = ref(false)
const fault = ref('')
const preview = ref<Schemas['Preview']>()
const striking = ref<{ key: string; words: string }>()
const supplyField = useTemplateRef<HTMLInputElement>('supplyField')
const heldField = useTemplateRef<HTMLInputElement>('heldField')

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
const unit = computed(() => sheet.value.leak_unit)
const figure = (text: string) => Number(text.replace(',', '.'))

function body() {
  return {
    cylinder: current.value,
    supply: figure(supply.value),
    ...(byPercent.value ? { pct: figure(held.value) } : { held: figure(held.value) }),
    unit: unit.value,
    position: position.value,
    tester: sheet.value.session.kit,
    ...(paths.value ? { paths: paths.value } : {}),
  }
}

watchDebounced([supply, held, byPercent], look, { debounce: 80 })
async function look() {
  preview.value = undefined
  if (held.value === '' || supply.value === '') return
  try {
    const { engine, session } = props.work
    preview.value = await ask(
      api.POST('/api/engines/{engine}/sessions/{session}/preview', {
        params: { path: { engine, session } },
        body: { ...body(), test: session },
      }),
    )
    fault.value = ''
  } catch (error) {
    if (error instanceof Refused) fault.value = error.message
  }
}

const focus = () => (field.value === 'supply' ? supplyField.value : heldField.value)?.focus()

async function keep() {
  if (field.value === 'supply') {
    field.value = 'held'
    return focus()
  }
  if (held.value === '') return sheet.value.leak_prompt.cylinder === 0 && emit('done')
  if (!Number.isFinite(figure(held.value)) || fault.value) return
  if (paths.value === undefined && !asking.value) {
    asking.value = true
    return
  }
  const entered = body()
  const typed = held.value
  held.value = ''
  paths.value = armed.value = undefined
  asking.value = false
  chosen.value = undefined
  const { is, answer, entry } = await props.work.enter('leakdown', entered)
  // What is refused comes back into its field, marked; if another is being typed, it stays in the outbox.
  if (is !== 'refused' || held.value !== '') return
  fault.value = answer?.why ?? 'not kept'
  held.value = typed
  chosen.value = entered.cylinder
  await drop(entry.id)
}

function place(where: Path['where']) {
  asking.value = false
  ;[paths.value, armed.value] = toggle(paths.value ?? [], where, cell.value.beside)
}
function nothing() {
  paths.value = []
  armed.value = undefined
  asking.value = false
}
function louder(level: number) {
  if (armed.value) armed.value.level = level
}
function digit(key: string) {
  if (armed.value && '123'.includes(key)) return louder(Number(key))
  armed.value = undefined
  if (field.value === 'supply') supply.value += key
  else held.value += key
}
function typeIn(event: KeyboardEvent) {
  digit(event.key)
  focus()
}
function back() {
  armed.value = undefined
  if (field.value === 'supply') supply.value = supply.value.slice(0, -1)
  else held.value = held.value.slice(0, -1)
}
function toSupply() {
  field.value = field.value === 'supply' ? 'held' : 'supply'
  void nextTick(() => {
    focus()
    supplyField.value?.select()
  })
}
function move(by: number) {
  const order = sheet.value.leak.map((c) => c.cylinder)
  chosen.value = order[(order.indexOf(current.value) + by + order.length) % order.length]
}
function turnPosition() {
  const all = ['tdc', 'swept', 'bdc'] as const
  position.value = all[(all.indexOf(position.value) + 1) % 3]!
}
function askStrike() {
  const row = cell.value.attempts.filter((a) => !a.struck && a.key).at(-1)
  if (row?.key) striking.value = { key: row.key, words: `${row.leak_pct.toFixed(1)} % of cylinder ${current.value}` }
}
async function strike(why: string) {
  const key = striking.value!.key
  striking.value = undefined
  await props.work.strike(key, why)
  focus()
}

useKeys([
  { keys: ['0…9'], does: 'the held pressure; right after a place, 1 2 3 say how strong' },
  { keys: [...'0123456789.'], does: '', run: typeIn, inFields: true },
  {
    keys: ['c', 'i', 'e', 'w', 'n', 'p'],
    does: 'air at the oil filler, intake, exhaust, coolant, neighbour, its own plug hole',
    run: (e) =>
      place(
        ({ c: 'crankcase', i: 'intake', e: 'exhaust', w: 'coolant', n: 'neighbour', p: 'plug_hole' } as const)[
          e.key as 'c'
        ],
      ),
    inFields: true,
  },
  { keys: ['l'], does: 'listened, heard nothing', run: nothing, inFields: true },
  { keys: ['Enter'], does: 'keep it, go on', run: () => void keep(), inFields: true },
  { keys: ['s'], does: 'to the supply and back', run: toSupply, inFields: true },
  { keys: ['%'], does: 'the dial shows percent', run: () => (byPercent.value = !byPercent.value), inFields: true },
  { keys: ['b'], does: 'TDC, swept, at the bottom', run: turnPosition, inFields: true },
  { keys: ['x'], does: 'strike the last attempt on this cylinder', run: askStrike, inFields: true },
  { keys: ['Backspace'], does: 'a figure back', run: back, inFields: true },
  { keys: ['ArrowRight', 'ArrowDown'], does: 'next cylinder in firing order', run: () => move(1), inFields: true },
  { keys: ['ArrowLeft', 'ArrowUp'], does: 'cylinder before', run: () => move(-1), inFields: true },
  { keys: ['PageDown', 'PageUp'], does: 'step on, step back' },
  { keys: ['Escape'], does: 'leave the sheet; it is kept', run: () => emit('leave'), inFields: true },
])
onMounted(() => {
  const last = sheet.value.leak.flatMap((c) => c.attempts).at(-1)
  if (last) supply.value = String(last.supply)
  focus()
})
const bores = computed(() => boresOf(sheet.value))
const names = { tdc: 'at TDC', swept: 'swept through TDC', bdc: 'at the bottom, rockers off' }
</script>

<template>
  <div class="grid gap-x-8 gap-y-6 py-4 lg:grid-cols-[minmax(0,12fr)_minmax(0,7fr)]">
    <section aria-label="Leak-down">
      <h2 class="text-2xl font-medium" aria-live="polite" data-prompt>
        {{ current === sheet.leak_prompt.cylinder || !sheet.leak_prompt.cylinder ? sheet.leak_prompt.say : cell.say }}
      </h2>
      <p class="text-soft max-sm:text-[0.9rem] max-sm:leading-snug">
        Every tool off the crank bolt, or the bar held, before air goes in; stand clear of its arc. Air up slowly, on a
        hose that cannot whip, never above the tester’s rating. {{ sheet.wheel?.push }}
      </p>
      <p v-if="sheet.verdict.remark" role="status" class="mt-1 border-l-4 border-watch pl-3 text-lg" data-remark>
        {{ sheet.verdict.remark }}
      </p>
      <div class="mt-2 grid gap-x-6 md:grid-cols-[15rem_minmax(0,1fr)]">
        <CrankWheel
          v-if="sheet.wheel && step >= 0"
          :wheel="sheet.wheel"
          :step="step"
          class="mx-auto max-w-60 max-md:hidden"
        />
        <div>
          <div class="flex items-end gap-x-5">
            <p class="figures text-[5rem] leading-none sm:text-[6.5rem] font-semibold" data-current>{{ current }}</p>
            <p class="pb-2 text-lg text-soft">
              <b v-if="cell.name" class="text-ink">{{ cell.name }}, </b>{{ cell.place }}<br />
              <template v-if="cell.baseline_pct !== undefined"
                >baseline <b class="figures text-ink">{{ cell.baseline_pct.toFixed(1) }}</b> %</template
              >
              <template v-if="cell.last_pct !== undefined"
                >, last <b class="figures text-ink">{{ cell.last_pct.toFixed(1) }}</b> %</template
              >
            </p>
          </div>
          <div class="mt-2 grid max-w-md grid-cols-2 gap-5">
            <label>
              <span class="font-semibold">in, {{ unit }}</span>
              <input
                ref="supplyField"
                :value="supply"
                readonly
                inputmode="none"
                class="figures w-full border-b-3 bg-transparent text-5xl font-semibold outline-none"
                :class="field === 'supply' ? 'border-verdigris' : 'border-rule'"
                @focus="field = 'supply'"
              />
            </label>
            <label>
              <span class="font-semibold">{{ byPercent ? 'leak, %' : `held, ${unit}` }}</span>
              <input
                ref="heldField"
                :value="held"
                readonly
                inputmode="none"
                class="figures w-full border-b-3 bg-transparent text-5xl font-semibold outline-none"
                :class="field === 'held' ? 'border-verdigris' : 'border-rule'"
                :aria-invalid="fault !== ''"
                @focus="field = 'held'"
              />
            </label>
          </div>
          <p class="mt-2 min-h-10 text-xl" aria-live="polite" data-preview>
            <span v-if="fault" class="font-semibold" data-fault>{{ fault }}</span>
            <template v-else-if="preview">
              <b class="figures text-3xl">{{ preview.leak_pct.toFixed(1) }} %</b>
              <span v-if="preview.hole_mm !== undefined" class="ml-2"
                >like a <b class="figures">{{ preview.hole_mm.toFixed(2) }}</b> mm hole<span
                  v-if="Math.abs(preview.reference_leak_pct! - preview.leak_pct) >= 0.05"
                  class="block text-base text-soft"
                  ><b class="figures text-ink">{{ preview.reference_leak_pct!.toFixed(1) }} %</b> on 100 psi through 1
                  mm</span
                ></span
              >
            </template>
          </p>
        </div>
      </div>
      <KeyPad class="mt-1 max-w-md lg:hidden" @digit="digit" @back="back" />
      <p class="mt-2 font-semibold" :class="{ 'text-xl': asking }" aria-live="assertive" data-asking>
        {{
          asking
            ? 'Where do you hear it? l says: listened, nothing. Enter keeps it without a place.'
            : 'Where do you hear it?'
        }}
      </p>
      <PlaceButtons
        :paths="paths"
        :armed="armed"
        :beside="cell.beside"
        @place="place"
        @nothing="nothing"
        @louder="louder"
      />
      <div class="mt-3 flex flex-wrap gap-3">
        <button class="button-main min-h-14 grow text-xl" @click="keep">
          {{ sheet.leak_prompt.cylinder === 0 && !held ? 'Go on' : asking ? 'Keep it without a place' : 'Keep it' }}
          <KeyCap class="max-sm:hidden">Enter</KeyCap>
        </button>
        <button class="button-plain min-h-14" @click="askStrike">
          Strike <KeyCap class="max-sm:hidden">x</KeyCap>
        </button>
        <button class="button-plain min-h-14" :aria-pressed="byPercent" @click="byPercent = !byPercent">
          {{ byPercent ? 'Type held' : 'Type %' }} <KeyCap class="max-sm:hidden">%</KeyCap>
        </button>
        <button class="button-plain min-h-14" @click="turnPosition">
          {{ names[position] }} <KeyCap class="max-sm:hidden">b</KeyCap>
        </button>
      </div>
    </section>
    <section aria-label="All cylinders">
      <BorePlan
        :layout="sheet.engine.layout"
        :bores="bores"
        :current="current"
        class="mb-4 max-lg:hidden"
        :style="{ maxWidth: `${Math.max(...(sheet.engine.layout.banks?.map((b) => b.length) ?? [1])) * 120}px` }"
        @pick="(c) => ((chosen = c), focus())"
      />
      <LeakTable :cells="sheet.leak" :current="current" :waiting="done" @pick="(c) => ((chosen = c), focus())" />
      <p v-for="w in sheet.warnings" :key="w" class="mt-3 border-l-4 border-watch pl-3" data-warning>{{ w }}</p>
      <p v-if="!sheet.wheel" class="mt-3 text-soft">
        Enter this engine’s firing order, and the turn to each cylinder is shown.
      </p>
    </section>
    <StrikeDialog :what="striking?.words" @close="striking = undefined" @strike="strike" />
  </div>
</template>
