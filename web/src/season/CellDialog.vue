<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, faultOf } from '@/api/client'
import { longest } from '@/api/constants.gen'
import FigureField from '@/components/FigureField.vue'
import LabelledField from '@/components/LabelledField.vue'
import PanelDialog from '@/components/PanelDialog.vue'
import { useHandIn } from '@/composables/useHandIn'
import { sayer } from '@/words/say'
import texts from '@/words/en/season.json'
import { carsFor, change, instead, pin, place, work, type Board, type Work } from './useSeason'
import { useTold } from './useTold'
import { percent, workWords } from './words'

const says = sayer(texts)

/** One engine at one event: what it runs in, the work before it, how long it really ran, and who else could run. */
const props = defineProps<{ board: Board; engine: string; at: number; open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const row = computed(() => props.board.engines.find((r) => r.engine === props.engine))
const cell = computed(() => row.value?.cells[props.at])
const head = computed(() => props.board.meetings[props.at])
const cars = computed(() => carsFor(props.board, props.engine, props.at))
/** Who is in a car at the event, if somebody else is. */
const other = (car: string) =>
  props.board.engines.find((r) => r.engine !== props.engine && r.cells[props.at]?.car === car)
const works: (Work | undefined)[] = [undefined, 'test', 'freshen', 'rebuild']
const has = (w?: Work) => (w ? !!cell.value?.jobs?.some((j) => j.work === w) : !cell.value?.jobs?.some((j) => !j.done))
const pinned = computed(() => (cell.value?.car ? !!cell.value.pinned : !!cell.value?.jobs?.every((j) => j.pinned)))
const over = computed(() => !!head.value && head.value.days <= 0)

const { problem, told } = useTold()
const ran = ref<number>()
const stopped = ref('')
const broke = ref(false)
watch(
  () => [props.open, props.engine, props.at],
  () => {
    problem.value = undefined
    ran.value = cell.value?.ran
    stopped.value = cell.value?.stopped ?? ''
    broke.value = !!cell.value?.broke
  },
  { immediate: true },
)
const { handIn: keep } = useHandIn(async (id, done) => {
  if (Number.isNaN(ran.value)) return // its field says so
  const fields = { ran: ran.value ?? null, stopped: stopped.value.trim() || null, broke: broke.value }
  if (await told(change(cell.value!, fields, id))) {
    done()
    emit('close')
  }
})
const others = useQuery({
  queryKey: computed(() => ['season', 'others', head.value?.id ?? '', cell.value?.car ?? '']),
  queryFn: () =>
    ask(
      api.GET('/api/season/others', {
        params: { query: { meeting: head.value!.id, car: cell.value!.car! } },
      }),
    ),
  enabled: computed(() => props.open && !!cell.value?.car && !head.value?.past),
})
/** What each kind of work comes to, of the engine that is planned. */
const ofWork = (w?: Work) => others.data.value?.find((o) => o.engine === props.engine && o.work === w)
const rivals = computed(() => (others.data.value ?? []).filter((o) => o.engine !== props.engine))
async function takes(engine: string, of?: Work) {
  const theirs = props.board.engines.find((r) => r.engine === engine)?.cells[props.at]
  const placed = await told(instead(props.board, props.at, props.engine, engine))
  if (placed && (!of || (await told(work(theirs ?? { meeting: head.value!.id }, engine, props.board.today, of))))) {
    emit('close')
  }
}
</script>

<template>
  <PanelDialog :open="open && !!cell" class="max-w-xl" data-cell-dialog @close="emit('close')">
    <template v-if="cell && row && head">
      <DialogTitle class="text-xl font-semibold">{{ says('at', { engine: row.name, event: head.name }) }}</DialogTitle>
      <p v-if="cell.words" class="mt-1 text-lg" data-words aria-live="polite">{{ cell.words }}</p>
      <p v-if="cell.more" class="text-soft">{{ cell.more }}</p>
      <p v-if="row.repair" class="mt-1 border-l-4 border-act pl-3 font-semibold">{{ row.sentence }}</p>
      <p v-if="problem" role="alert" class="mt-2 font-semibold">
        {{ problem.errors?.[0]?.message ?? problem.detail }}
      </p>

      <fieldset class="mt-4">
        <legend class="text-[0.95rem] text-soft">{{ says('runs-in') }}</legend>
        <div class="mt-1 flex flex-wrap gap-2">
          <button
            v-for="c in cars"
            :key="c.id"
            type="button"
            class="choice"
            :aria-pressed="cell.car === c.id"
            @click="told(place(cell, engine, c.id))"
          >
            {{ c.name }}<small v-if="other(c.id)"> {{ says('instead-of', { engine: other(c.id)!.name }) }}</small>
          </button>
          <button type="button" class="choice" :aria-pressed="!cell.car" @click="told(place(cell, engine))">
            {{ says('not-here') }}
          </button>
        </div>
        <p v-if="!cars.length" class="mt-1 text-soft">{{ says('fits-no-car') }}</p>
      </fieldset>

      <fieldset v-if="!head.past" class="mt-4">
        <legend class="text-[0.95rem] text-soft">{{ says('work-before-it') }}</legend>
        <div class="mt-1 grid gap-2">
          <button
            v-for="w in works"
            :key="w ?? 'none'"
            type="button"
            class="choice flex items-center gap-x-3 text-left"
            :data-work="w ?? 'none'"
            :aria-pressed="has(w)"
            @click="told(work(cell, engine, board.today, w))"
          >
            <span class="min-w-20 first-letter:uppercase">{{ w ? workWords(w) : says('no-work') }}</span>
            <small v-if="ofWork(w)" class="grow"
              ><span class="figures">{{ percent(ofWork(w)!.chance) }}%</span>: {{ ofWork(w)!.words }}</small
            >
          </button>
        </div>
      </fieldset>

      <p v-if="(cell.car || cell.jobs?.length) && !head.past" class="mt-4">
        <button type="button" class="choice" :aria-pressed="pinned" @click="told(pin(cell, engine, !pinned))">
          {{ says('pin') }}
        </button>
        <span class="ml-3 text-soft">{{ says('pinned-stays') }}</span>
      </p>

      <form v-if="cell.car && over" class="mt-4 grid gap-3 sm:grid-cols-2" novalidate @submit.prevent="keep">
        <FigureField
          v-model="ran"
          :label="says('it-ran', { unit: row.unit ?? '' })"
          :fault="faultOf(problem, 'ran')"
          data-ran
        />
        <LabelledField :label="says('why-stopped')" :fault="faultOf(problem, 'stopped')">
          <input v-model="stopped" class="field" :maxlength="longest.AheadStart?.stopped ?? 300" />
        </LabelledField>
        <label class="flex min-h-11 items-center gap-3 sm:col-span-2">
          <input v-model="broke" type="checkbox" class="size-6 accent-verdigris" data-broke />{{ says('it-broke') }}
        </label>
        <button class="button-main sm:col-span-2" data-save>{{ says('save-running') }}</button>
      </form>

      <section v-if="rivals.length" class="mt-5" data-others>
        <h3 class="border-b border-rule pb-1 font-semibold">{{ says('who-else') }}</h3>
        <ul>
          <li v-for="o in rivals" :key="o.engine" class="flex items-center gap-3 border-b border-track py-1">
            <b class="min-w-24">{{ o.name }}</b>
            <span class="grow text-[0.95rem]"
              ><span class="figures">{{ percent(o.chance) }}%</span>: {{ o.words }}</span
            >
            <button type="button" class="link min-h-11" @click="takes(o.engine!, o.work)">
              {{ says('take') }}<span class="sr-only">: {{ o.name }}</span>
            </button>
          </li>
        </ul>
      </section>
      <div class="mt-5 flex">
        <button type="button" class="button-plain grow" data-close @click="emit('close')">{{ says('done') }}</button>
      </div>
    </template>
  </PanelDialog>
</template>
