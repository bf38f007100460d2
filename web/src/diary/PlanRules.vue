<script setup lang="ts">
import { reactive, ref } from 'vue'
import type { Problem, Schemas } from '@/api/client'
import FigureField from '@/components/FigureField.vue'
import { useHandIn } from '@/composables/useHandIn'
import { problemOf } from '@/composables/useSheet'
import { changed, seen } from '@/outbox/change'
import { drop, tell, type Typed } from '@/outbox/useOutbox'

/** How long engines of each duty are left between tests; each rule can be changed to the workshop's own. */
type Rule = Schemas['DiaryRule']
const props = defineProps<{ rules: Rule[] }>()
const editing = ref('')
const problem = ref<Problem>()
const form = reactive({
  hours: undefined as number | undefined,
  km: undefined as number | undefined,
  events: undefined as number | undefined,
  months: undefined as number | undefined,
})

function edit(r: Rule) {
  Object.assign(form, { hours: r.hours, km: r.km, events: r.events, months: r.months })
  problem.value = undefined
  editing.value = r.id
}
const { handIn: keep } = useHandIn(async (id, done) => {
  const was = props.rules.find((r) => r.id === editing.value)!
  if (Object.values(form).some((v) => Number.isNaN(v))) return // its field says so
  const have = { hours: was.hours, km: was.km, events: was.events, months: was.months }
  // The first of a rule says all of it: the built-in one is no entry that could be changed.
  const body = was.own ? changed(have, { ...form }) : Object.fromEntries(Object.entries(form).filter(([, v]) => v))
  const outcome = await tell({
    id,
    kind: 'plan',
    body: { id: was.id, ...body },
    ...(was.own ? { was: seen(have, body) } : {}),
  } as Typed<'plan'>)
  if (outcome.is === 'refused') {
    await drop(outcome.entry.id)
    problem.value = problemOf(outcome)
    return
  }
  editing.value = ''
  done()
})
const figures = [
  { key: 'hours', words: 'hours' },
  { key: 'km', words: 'km' },
  { key: 'events', words: 'runs or events' },
  { key: 'months', words: 'months' },
] as const
</script>

<template>
  <details class="max-w-3xl print:hidden" data-plan>
    <summary class="min-h-11 content-center border-b border-rule text-xl font-semibold">
      How long engines are left between tests
    </summary>
    <p class="mt-2 text-soft">
      By the meter or by the calendar, whichever comes first. An engine may have its own, under its figures.
    </p>
    <form novalidate @submit.prevent="keep">
      <table class="mt-2 w-full">
        <thead>
          <tr class="border-b border-rule text-left text-soft">
            <th class="py-1 font-normal">used for</th>
            <th v-for="f in figures" :key="f.key" class="px-2 text-right font-normal">{{ f.words }}</th>
            <th><span class="sr-only">change</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rules" :key="r.id" class="border-b border-track">
            <th class="py-1 text-left font-normal">
              {{ r.id.replace('-', ' ') }}<span v-if="r.own" class="text-soft"> · ours</span>
            </th>
            <td v-for="f in figures" :key="f.key" class="figures px-2 text-right">
              <FigureField v-if="editing === r.id" v-model="form[f.key]" label="" :aria-label="f.words" />
              <template v-else>{{ r[f.key] || '' }}</template>
            </td>
            <td class="text-right">
              <button v-if="editing === r.id" class="link min-h-11 font-semibold">keep</button>
              <button v-else type="button" class="link min-h-11" @click="edit(r)">
                change<span class="sr-only"> the rule for {{ r.id }}</span>
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="problem" role="alert" class="mt-1 font-semibold">
        {{ problem.errors?.[0]?.message ?? problem.detail }}
      </p>
    </form>
  </details>
</template>
