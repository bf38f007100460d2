<script setup lang="ts">
import { nanoid } from 'nanoid'
import { computed, reactive, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { faultOf, type Problem, type Schemas } from '@/api/client'
import { longDate, today } from '@/composables/useFormat'
import { problemOf } from '@/composables/useSheet'
import { drop, tell } from '@/outbox/useOutbox'
import FigureField from './FigureField.vue'
import LabelledField from './LabelledField.vue'
import StateMark from './StateMark.vue'
import StrikeLine from './StrikeLine.vue'

const props = defineProps<{ page: Schemas['EnginePage'] }>()
const engine = props.page.engine.id!

/** Tests, builds and events on one line of time, the latest first. */
const items = computed(() => {
  const all = [
    ...props.page.tests.map((test) => ({ date: test.date, meter: test.meter, test })),
    ...(props.page.builds ?? []).map((b) => ({
      date: b.date ?? '',
      meter: undefined,
      words: `New build: ${b.what}`,
      struck: b.struck,
      entry: behind('build', b.id),
    })),
    ...(props.page.events ?? []).map((e) => ({
      date: e.date ?? '',
      meter: e.meter,
      words: e.what,
      struck: e.struck,
      entry: behind('event', e.key),
    })),
  ]
  return all.sort((a, b) => (a.date === b.date ? 0 : a.date < b.date ? 1 : -1))
})

const behind = (kind: string, key?: string) => props.page.behind[`${kind} ${key ?? ''}`] ?? ''
const adding = ref(false)
const form = reactive({ kind: 'event', date: today(), meter: undefined as number | undefined, what: '' })
const problem = ref<Problem>()
const waits = ref('')
async function keep() {
  const { date } = form
  const what = form.what.trim()
  const { meter } = form
  if (Number.isNaN(meter)) return // its field says so
  const outcome =
    form.kind === 'build'
      ? await tell({ kind: 'build', engine, body: { id: `b-${nanoid(6)}`, date, what } })
      : await tell({ kind: 'event', engine, body: { date, what, meter } })
  if (outcome.is === 'refused') {
    problem.value = problemOf(outcome)
    return drop(outcome.entry.id)
  }
  waits.value = outcome.is === 'waiting' ? 'It waits to be sent.' : ''
  Object.assign(form, { what: '', meter: undefined })
  problem.value = undefined
  adding.value = false
}
</script>

<template>
  <section>
    <div class="flex flex-wrap items-center gap-x-6 border-b border-rule pb-1">
      <h2 class="font-semibold">Tests, builds, events</h2>
      <span v-if="waits" class="text-soft" role="status">{{ waits }}</span>
      <RouterLink :to="`/engines/${engine}/record`" class="link ml-auto flex min-h-11 items-center">Record</RouterLink>
      <button class="link min-h-11" :aria-expanded="adding" @click="adding = !adding">
        Note a rebuild or an event
      </button>
    </div>
    <form
      v-if="adding"
      class="grid max-w-4xl gap-3 py-3 md:grid-cols-[9rem_10rem_7rem_1fr_auto] md:items-end"
      @submit.prevent="keep"
    >
      <LabelledField label="What it was">
        <select v-model="form.kind" class="field">
          <option value="event">an event</option>
          <option value="build">a new build</option>
        </select>
      </LabelledField>
      <LabelledField label="Date" :fault="faultOf(problem, 'date')"
        ><input v-model="form.date" type="date" class="field figures"
      /></LabelledField>
      <FigureField
        v-if="form.kind === 'event'"
        v-model="form.meter"
        :label="`Meter, ${page.engine.meter_unit ?? 'h'}`"
        :fault="faultOf(problem, 'meter')"
      />
      <LabelledField label="In your words" :fault="faultOf(problem, 'what')"
        ><input v-model="form.what" class="field" maxlength="200" required
      /></LabelledField>
      <button class="button-main">Keep it</button>
      <p v-if="form.kind === 'build'" class="text-soft sm:col-span-full">
        A new build begins a new baseline: the next test is held against nothing older.
      </p>
      <p v-if="problem && !problem.errors" role="alert" class="font-semibold sm:col-span-full">{{ problem.detail }}</p>
    </form>
    <ol>
      <li v-for="(item, i) in items" :key="i" class="border-b border-rule">
        <RouterLink
          v-if="'test' in item"
          :to="`/engines/${engine}/tests/${item.test.id}/${item.test.open ? '' : 'findings'}`"
          class="grid gap-x-5 py-2 hover:bg-sheet md:grid-cols-[9.5rem_6rem_11rem_5.5rem_minmax(0,1fr)] md:items-center"
        >
          <span>{{ longDate(item.date) }}</span>
          <span class="figures">{{ item.meter }} {{ item.meter === undefined ? '' : page.engine.meter_unit }}</span>
          <span class="text-soft"
            >{{ item.test.stage?.replace('-', ' ')
            }}<template v-if="item.test.conditions?.engine_temp"
              >, {{ item.test.conditions.engine_temp }}</template
            ></span
          >
          <span><StateMark v-if="item.test.verdict.cylinders.length" :state="item.test.verdict.state" /></span>
          <span>{{ item.test.verdict.sentence }}</span>
        </RouterLink>
        <p
          v-else
          class="grid gap-x-5 py-2 text-verdigris md:grid-cols-[9.5rem_6rem_minmax(0,1fr)_auto] md:items-center"
        >
          <span>{{ item.date ? longDate(item.date) : '' }}</span>
          <span class="figures">{{ item.meter }} {{ item.meter === undefined ? '' : page.engine.meter_unit }}</span>
          <span :class="{ 'text-soft line-through': item.struck }">{{ item.words }}</span>
          <StrikeLine :engine="engine" :entry="item.entry" :words="item.words" :struck="item.struck" />
        </p>
      </li>
    </ol>
  </section>
</template>
