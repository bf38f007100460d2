<script setup lang="ts">
import { longest } from '@/api/constants.gen'
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, faultOf, type Problem, type Schemas } from '@/api/client'
import { testersQuery } from '@/api/queries'
import FigureField from '@/components/FigureField.vue'
import GaugeAsking from '@/components/GaugeAsking.vue'
import LabelledField from '@/components/LabelledField.vue'
import { useHandIn } from '@/composables/useHandIn'
import { figureOf, figuresOf, noFigure, pressureUnits } from '@/composables/figure'
import { useKeys } from '@/composables/useKeys'
import { problemOf } from '@/composables/useSheet'
import { seen } from '@/outbox/change'
import { drop, tell, type Typed } from '@/outbox/useOutbox'
import { shown, unitOf } from '@/sums/units'

type Tester = Schemas['Tester']

const testers = useQuery(testersQuery)
/** Electronic gauges that are plugged in now. */
const speaking = useQuery({
  queryKey: ['gauge', 'all'],
  queryFn: () => ask(api.GET('/api/gauge')),
})
const sorts = { valve: 'with a check valve', bare: 'without a valve', 'leak-down': 'leak-down tester' }
const kinds: Record<Tester['kind'], string> = {
  compression: 'compression gauge',
  leakdown: 'leak-down tester',
  rotary: 'rotary gauge',
}

const empty = () => ({
  id: '',
  name: '',
  kind: 'compression' as Tester['kind'],
  division: undefined as number | undefined,
  unit: 'psi' as Schemas['Reading']['unit'],
  range: undefined as number | undefined,
  offset: undefined as number | undefined,
  dead: undefined as number | undefined,
  orifice: undefined as number | undefined,
})
const form = reactive(empty())
const problem = ref<Problem>()
const edit = (t: Tester) =>
  Object.assign(form, empty(), {
    id: t.id,
    name: t.name ?? '',
    kind: t.kind,
    division: t.resolution?.value,
    unit: t.resolution?.unit ?? 'psi',
    range: t.range?.value,
    offset: t.offset_kpa,
    dead: t.dead_volume_cc,
    orifice: t.orifice_mm,
  })

const waits = ref('')
const { handIn: save } = useHandIn(async (name, done) => {
  const figures = [form.division, form.range, form.offset, form.dead, form.orifice]
  if (figures.some((v) => Number.isNaN(v))) return // its field says so
  const pressure = (value: number | undefined) => (value === undefined ? null : { value, unit: form.unit })
  const body = {
    id:
      form.id ||
      `${
        form.name
          .toLowerCase()
          .replaceAll(/[^a-z0-9]+/g, '-')
          .replaceAll(/^-|-$/g, '') || 'tester'
      }-${name.slice(0, 4)}`,
    name: form.name.trim(),
    kind: form.kind,
    offset_kpa: form.offset ?? null,
    dead_volume_cc: form.dead ?? null,
    orifice_mm: form.orifice ?? null,
    resolution: pressure(form.division),
    range: pressure(form.range),
  }
  const have = rows.value.find((t) => t.id === form.id)
  const outcome = await tell({
    id: name,
    kind: 'tester',
    body,
    was: have && seen({ ...have }, body),
  } as Typed<'tester'>)
  if (outcome.is === 'refused') {
    await drop(outcome.entry.id)
    problem.value = problemOf(outcome)
    return
  }
  waits.value = outcome.is === 'waiting' ? 'It waits to be sent.' : ''
  problem.value = undefined
  Object.assign(form, empty())
  done()
})

const one = ref('')
const other = ref('')
const check = ref<Schemas['GaugeCheck']>()
const checkFault = ref('')
async function compare() {
  const both = { one: figuresOf(one.value), other: figuresOf(other.value) }
  const none = [one.value, other.value].flatMap((line) => line.split(/[\s;]+/)).find((t) => Number.isNaN(figureOf(t)))
  if (none) return (checkFault.value = noFigure(none))
  try {
    check.value = await ask(api.POST('/api/gauge-checks', { body: both }))
    checkFault.value = ''
  } catch (error) {
    checkFault.value = error instanceof Error ? error.message : 'not compared'
  }
}
const rows = computed(() => testers.data.value ?? [])
useKeys([{ keys: ['Enter'], does: 'in a field: keep the tester' }])
</script>

<template>
  <main class="mx-auto max-w-[1400px] px-4 py-5 sm:px-6">
    <div class="flex flex-wrap items-baseline gap-x-6">
      <h1 class="text-3xl font-semibold">Gauges</h1>
      <p class="text-soft">Evenness on one gauge is worth more than its number: note which one was used.</p>
      <RouterLink to="/record" class="link ml-auto">Record</RouterLink>
      <RouterLink to="/protocols" class="link">Protocols</RouterLink>
    </div>
    <section v-if="speaking.data.value" aria-label="Gauges that speak" class="mt-3" data-speaking>
      <GaugeAsking :asking="speaking.data.value.asking ?? []" />
      <ul v-if="speaking.data.value.gauges.length" class="flex flex-wrap gap-x-8 text-lg">
        <li v-for="g in speaking.data.value.gauges" :key="g.id">
          <b>{{ g.name }}</b> speaks at {{ g.from }}, {{ sorts[g.kind]
          }}<template v-if="!g.followed">; another of its sort is heard</template>
        </li>
      </ul>
      <p v-else class="text-soft">
        <template v-if="speaking.data.value.fault">{{ speaking.data.value.fault }} </template>
        No electronic gauge speaks. One on a serial port or the shop’s network writes by itself: start Braxel with
        --gauge or --gauge-port.
      </p>
    </section>
    <div class="relative mt-4 overflow-x-auto" tabindex="0" role="region" aria-label="Gauges">
      <table class="w-full min-w-[44rem]">
        <thead class="text-left text-[0.9rem] text-soft">
          <tr class="border-b border-rule">
            <th class="py-1 font-normal">tester</th>
            <th class="font-normal">division</th>
            <th class="font-normal">full scale</th>
            <th class="font-normal">offset, kPa</th>
            <th class="font-normal">hose, cm³</th>
            <th class="font-normal">orifice, mm</th>
            <th class="font-normal">pulls</th>
            <th class="font-normal">repeats within, {{ unitOf('pressure') }}</th>
            <th><span class="sr-only">change</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="t in rows" :key="t.id" class="border-b border-track">
            <th scope="row" class="py-2 text-left">
              <span class="text-lg font-semibold">{{ t.name || t.id }}</span>
              <span class="ml-2 font-normal text-soft">{{ kinds[t.kind] }}</span>
            </th>
            <td class="figures">{{ t.resolution ? `${t.resolution.value} ${t.resolution.unit}` : '–' }}</td>
            <td class="figures">{{ t.range ? `${t.range.value} ${t.range.unit}` : '–' }}</td>
            <td class="figures">{{ t.offset_kpa ?? '–' }}</td>
            <td class="figures">{{ t.dead_volume_cc ?? '–' }}</td>
            <td class="figures">{{ t.orifice_mm ?? (t.kind === 'leakdown' ? '1 assumed' : '–') }}</td>
            <td class="figures">{{ t.pulls || '–' }}</td>
            <td class="figures text-lg">{{ t.limit_kpa ? shown(t.limit_kpa, 'pressure') : '–' }}</td>
            <td class="text-right">
              <button class="link min-h-11" @click="edit(t)">
                change<span class="sr-only"> {{ t.name || t.id }}</span>
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="testers.isError.value" role="alert" class="mt-2">
      Braxel cannot be reached: the testers are listed when it is back. One that you enter now is kept and sent.
    </p>
    <p class="mt-2 text-[0.95rem] text-soft">
      Two pulls of one cylinder that differ by more than “repeats within” are suspicious: 2.8 times the standard
      deviation of a pull, from every pull made with that gauge.
    </p>

    <div class="mt-8 grid gap-10 lg:grid-cols-2">
      <form class="grid grid-cols-2 content-start gap-3" novalidate @submit.prevent="save">
        <h2 class="col-span-2 border-b border-rule pb-1 font-semibold">
          {{ form.id ? `Change the ${form.name}` : 'Another tester' }}
        </h2>
        <LabelledField label="Name" :fault="faultOf(problem, 'name')"
          ><input v-model="form.name" class="field" :maxlength="longest.Tester.name"
        /></LabelledField>
        <LabelledField label="Kind">
          <select v-model="form.kind" class="field">
            <option v-for="(w, k) in kinds" :key="k" :value="k">{{ w }}</option>
          </select>
        </LabelledField>
        <FigureField v-model="form.division" label="Division of the dial" :fault="faultOf(problem, 'resolution')" />
        <LabelledField label="Unit">
          <select v-model="form.unit" class="field">
            <option v-for="u in pressureUnits" :key="u">{{ u }}</option>
          </select>
        </LabelledField>
        <FigureField v-model="form.range" label="Full scale" :fault="faultOf(problem, 'range')" />
        <FigureField v-model="form.offset" label="Reads too high by, kPa" :fault="faultOf(problem, 'offset_kpa')" />
        <FigureField
          v-if="form.kind !== 'leakdown'"
          v-model="form.dead"
          label="Hose ahead of the check valve, cm³"
          :fault="faultOf(problem, 'dead_volume_cc')"
        />
        <FigureField v-else v-model="form.orifice" label="Orifice, mm" :fault="faultOf(problem, 'orifice_mm')" />
        <p v-if="problem && !problem.errors" role="alert" class="col-span-2">{{ problem.detail }}</p>
        <p v-if="waits" role="status" class="col-span-2">{{ waits }}</p>
        <button class="button-main col-span-2">Keep this tester</button>
      </form>
      <form class="grid content-start gap-3" novalidate @submit.prevent="compare">
        <h2 class="border-b border-rule pb-1 font-semibold">One gauge against another</h2>
        <p class="text-soft">Both on the same pressures, in one unit, a pair at a time.</p>
        <LabelledField label="One reads"
          ><input v-model="one" class="field figures" placeholder="150 152 148"
        /></LabelledField>
        <LabelledField label="The other reads" :fault="checkFault || undefined"
          ><input v-model="other" class="field figures" placeholder="156 158 153"
        /></LabelledField>
        <button class="button-plain">Compare</button>
        <p v-if="check" class="text-lg" aria-live="polite">
          The other reads <b class="figures">{{ Math.abs(check.difference).toFixed(1) }}</b> ({{
            Math.abs(check.ratio_pct).toFixed(1)
          }}
          %) {{ check.difference < 0 ? 'lower' : 'higher' }}, give or take {{ (2 * check.se).toFixed(1) }}.
          {{
            check.real
              ? 'The difference is real: note it as the offset, or do not mix them.'
              : 'That is no more than their scatter.'
          }}
        </p>
      </form>
    </div>
  </main>
</template>
