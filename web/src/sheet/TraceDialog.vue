<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { Refused, type Schemas } from '@/api/client'
import PanelDialog from '@/components/PanelDialog.vue'
import { turned } from '@/composables/measures'
import type { Work } from '@/composables/useSheet'
import { curveOf, noteOf, ranked, readTrace, type TraceRead } from './traces'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

/** A recording of the cranking is read, shown with what was found in it, and kept with the test; one that was kept is shown again. */
const props = defineProps<{ open: boolean; work: Work; number: number; unit: string; kept?: Schemas['Trace'] }>()
const emit = defineEmits<{ close: [] }>()
// The chart comes with the page that needs it.
const TraceChart = defineAsyncComponent(() => import('./TraceChart.vue'))
const sheet = props.work.sheet
const noun = computed(() => (sheet.value?.engine.kind === 'rotary' ? says('rotor-3') : says('cylinder-5')))

const measured = ref('pressure')
const reading = ref(false)
const read = ref<TraceRead>()
const fault = ref('')
watch(
  () => props.open,
  async (is) => {
    if (!is) return
    read.value = undefined
    fault.value = ''
    if (props.kept) read.value = await curveOf(props.kept)
  },
)

async function take(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  reading.value = true
  read.value = undefined
  fault.value = ''
  try {
    const came = await readTrace(file, props.work.engine, props.number, measured.value, props.unit)
    if (came.trace) read.value = came
    else
      fault.value = came.line
        ? says('line', { line: came.line, refused: came.refused })
        : (came.refused ?? says('cant-read'))
  } catch (e) {
    fault.value = e instanceof Refused ? e.message : says('cant-reach-braxel-which-reads')
  }
  reading.value = false
}

async function keep() {
  const { trace, pulls } = read.value!
  const place = noun.value === 'rotor' ? { rotor: props.number } : { cylinder: props.number }
  await props.work.enterAll('look', [noteOf(trace!, trace!.form === 'current' ? {} : place)])
  if (pulls?.length)
    await props.work.enterAll(
      'pull',
      pulls.map((p) => ({
        ...p,
        mode: 'dry' as const,
        tester: sheet.value?.session.gauge,
        note: says('from-2', { file: trace!.file }),
      })),
    )
  emit('close')
}
/** The curve is kept in kPa, and drawn in the unit that is typed in. */
const drawn = computed(() =>
  (read.value?.points ?? []).map((p) => (read.value?.trace?.form === 'current' ? p : turned(p, 'kPa', props.unit))),
)
const relative = computed(() => ranked(read.value?.trace?.relative_pct))
</script>

<template>
  <PanelDialog :open="open" class="max-w-4xl!" @close="emit('close')">
    <DialogTitle class="text-2xl font-semibold">{{
      kept
        ? says('recording-2')
        : measured === 'pressure'
          ? says('recording', { noun, number })
          : says('recording-whole-engine')
    }}</DialogTitle>
    <template v-if="!kept">
      <p class="mt-1 text-soft">
        {{ says('csv-file-time-pressure-with') }}
      </p>
      <div class="mt-3 flex flex-wrap items-center gap-3">
        <label v-for="m in ['pressure', 'starter current']" :key="m" class="flex min-h-11 items-center gap-2"
          ><input v-model="measured" type="radio" name="measured" :value="m" /> {{ m }}</label
        >
        <label class="button-plain flex min-h-11 cursor-pointer items-center"
          >{{ says('choose-file') }}<input class="sr-only" type="file" accept=".csv,.txt,.tsv,text/csv" @change="take"
        /></label>
      </div>
    </template>
    <p v-if="reading" class="mt-3" role="status">{{ says('reading-3') }}</p>
    <p v-if="fault" class="mt-3 border-l-4 border-watch pl-3 text-lg" role="alert" data-trace-fault>{{ fault }}</p>
    <template v-if="read?.trace">
      <p class="mt-3 text-xl" data-trace-why>{{ read.trace.why }}</p>
      <TraceChart class="mt-3" :trace="read.trace" :points="drawn" :words="read.trace.why" />
      <p class="text-soft">
        {{ says('over-seconds-each-line-compression', { unit: read.trace.form === 'current' ? 'A' : unit }) }}
        <template v-if="(read.trace.speed_fell_pct ?? 0) > 8">{{
          says('cranking-slowed-check-battery', { read: rounded(read.trace.speed_fell_pct!, 0) })
        }}</template>
      </p>
      <ul v-if="relative.length" class="mt-2 flex flex-wrap gap-x-6" data-relative>
        <li v-for="r in relative" :key="r.cylinder">
          {{ says('cylinder') }} <b class="figures">{{ r.cylinder }}</b>:
          <b class="figures">{{ rounded(r.pct, 0) }} %</b>
        </li>
      </ul>
      <div v-if="!kept" class="mt-4 flex gap-3">
        <button class="button-main min-h-12 px-6" data-keep-trace @click="keep">
          <template v-if="read.pulls?.length">{{
            says('save-3', { read: read.pulls.map((p) => p.value).join(', '), unit: read.pulls[0]!.unit, noun, number })
          }}</template><template v-else>{{ says('save-with-test') }}</template>
        </button>
        <button class="button-plain min-h-12" @click="emit('close')">{{ says('cancel') }}</button>
      </div>
    </template>
    <button v-if="kept || !read?.trace" class="button-plain mt-4 min-h-11" @click="emit('close')">
      {{ says('close') }}
    </button>
  </PanelDialog>
</template>
