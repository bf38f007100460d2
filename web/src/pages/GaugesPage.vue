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
import { inField, pressureOr, shownIn, unitFor } from '@/composables/shown'
import SaidAround from '@/components/SaidAround.vue'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/gauges.json'

const says = sayer(texts)

type Tester = Schemas['Tester']

const testers = useQuery(testersQuery)
/** Electronic gauges that are plugged in now. */
const speaking = useQuery({
  queryKey: ['gauge', 'all'],
  queryFn: () => ask(api.GET('/api/gauge')),
})
const sorts = { valve: says('with-check-valve'), bare: says('without-valve'), 'leak-down': says('leak-down-tester') }
const kinds: Record<Tester['kind'], string> = {
  compression: says('compression-gauge'),
  leakdown: says('leak-down-tester'),
  rotary: says('rotary-gauge'),
}

const pressure = computed(() => unitFor('kPa', 'pressure'))
const orificeOf = (t: Tester) =>
  t.orifice_mm !== undefined
    ? shownIn(t.orifice_mm, 'mm')
    : t.kind === 'leakdown'
      ? says('assumed', { orifice: shownIn(1, 'mm') })
      : '–'

const empty = () => ({
  id: '',
  name: '',
  kind: 'compression' as Tester['kind'],
  division: undefined as number | undefined,
  unit: pressureOr('psi') as Schemas['Reading']['unit'],
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
    unit: t.resolution?.unit ?? pressureOr('psi'),
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
  waits.value = outcome.is === 'waiting' ? says('waiting-sent') : ''
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
    checkFault.value = error instanceof Error ? error.message : says('not-compared')
  }
}
const rows = computed(() => testers.data.value ?? [])
useKeys([{ keys: ['Enter'], does: says('field-save-tester') }])
</script>

<template>
  <main class="mx-auto max-w-[1400px] px-4 py-5 sm:px-6">
    <div class="flex flex-wrap items-baseline gap-x-6">
      <h1 class="text-3xl font-semibold">{{ says('gauges') }}</h1>
      <p class="text-soft">{{ says('evenness-one-gauge-worth-more') }}</p>
      <RouterLink to="/record" class="link ml-auto">{{ says('history') }}</RouterLink>
      <RouterLink to="/protocols" class="link">{{ says('protocols') }}</RouterLink>
    </div>
    <section v-if="speaking.data.value" :aria-label="says('connected-gauges')" class="mt-3" data-speaking>
      <GaugeAsking :asking="speaking.data.value.asking ?? []" />
      <ul v-if="speaking.data.value.gauges.length" class="flex flex-wrap gap-x-8 text-lg">
        <li v-for="g in speaking.data.value.gauges" :key="g.id">
          <b>{{ g.name }}</b> {{ says('at', { from: g.from, kind: sorts[g.kind] })
          }}<template v-if="!g.followed">{{ says('another-kind-used') }}</template>
        </li>
      </ul>
      <p v-else class="text-soft">
        <template v-if="speaking.data.value.fault">{{ speaking.data.value.fault }} </template>
        {{ says('no-electronic-gauge-connected-one') }}
        <code class="figures">--gauge</code> {{ says('or') }} <code class="figures">--gauge-port</code>.
      </p>
    </section>
    <div class="relative mt-4 overflow-x-auto" tabindex="0" role="region" :aria-label="says('gauges')">
      <table class="w-full min-w-[44rem]">
        <thead class="text-left text-[0.9rem] text-soft">
          <tr class="border-b border-rule">
            <th class="py-1 font-normal">{{ says('tester') }}</th>
            <th class="font-normal">{{ says('division') }}</th>
            <th class="font-normal">{{ says('full-scale') }}</th>
            <th class="font-normal">{{ says('in-unit', { what: says('offset'), unit: pressure }) }}</th>
            <th class="font-normal">{{ says('in-unit', { what: says('hose'), unit: unitFor('cc') }) }}</th>
            <th class="font-normal">{{ says('in-unit', { what: says('orifice'), unit: unitFor('mm') }) }}</th>
            <th class="font-normal">{{ says('readings') }}</th>
            <th class="font-normal">{{ says('repeatability', { pressure }) }}</th>
            <th>
              <span class="sr-only">{{ says('change') }}</span>
            </th>
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
            <td class="figures">{{ t.offset_kpa === undefined ? '–' : inField(t.offset_kpa, 'kPa', 'pressure') }}</td>
            <td class="figures">{{ t.dead_volume_cc === undefined ? '–' : shownIn(t.dead_volume_cc, 'cc') }}</td>
            <td class="figures">{{ orificeOf(t) }}</td>
            <td class="figures">{{ t.pulls || '–' }}</td>
            <td class="figures text-lg">{{ t.limit_kpa ? inField(t.limit_kpa, 'kPa', 'pressure') : '–' }}</td>
            <td class="text-right">
              <button class="link min-h-11" @click="edit(t)">
                {{ says('change') }}<span class="sr-only"> {{ t.name || t.id }}</span>
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="testers.isError.value" role="alert" class="mt-2">
      {{ says('cant-reach-braxel-testers-listed') }}
    </p>
    <p class="mt-2 text-[0.95rem] text-soft">
      {{ says('two-readings-one-cylinder-differ') }}
    </p>

    <div class="mt-8 grid gap-10 lg:grid-cols-2">
      <form class="grid grid-cols-2 content-start gap-3" novalidate @submit.prevent="save">
        <h2 class="col-span-2 border-b border-rule pb-1 font-semibold">
          {{ form.id ? says('change-2', { name: form.name }) : says('add-tester') }}
        </h2>
        <LabelledField :label="says('name')" :fault="faultOf(problem, 'name')"
          ><input v-model="form.name" class="field" :maxlength="longest.Tester.name"
        /></LabelledField>
        <LabelledField :label="says('kind')">
          <select v-model="form.kind" class="field">
            <option v-for="(w, k) in kinds" :key="k" :value="k">{{ w }}</option>
          </select>
        </LabelledField>
        <FigureField v-model="form.division" :label="says('division-dial')" :fault="faultOf(problem, 'resolution')" />
        <LabelledField :label="says('unit')">
          <select v-model="form.unit" class="field">
            <option v-for="u in pressureUnits" :key="u">{{ u }}</option>
          </select>
        </LabelledField>
        <FigureField v-model="form.range" :label="says('full-scale-2')" :fault="faultOf(problem, 'range')" />
        <FigureField
          v-model="form.offset"
          :label="says('reads-too-high')"
          unit="kPa"
          of="pressure"
          :fault="faultOf(problem, 'offset_kpa')"
        />
        <FigureField
          v-if="form.kind !== 'leakdown'"
          v-model="form.dead"
          :label="says('hose-ahead-check-valve')"
          unit="cc"
          :fault="faultOf(problem, 'dead_volume_cc')"
        />
        <FigureField
          v-else
          v-model="form.orifice"
          :label="says('orifice-field')"
          unit="mm"
          :fault="faultOf(problem, 'orifice_mm')"
        />
        <p v-if="problem && !problem.errors" role="alert" class="col-span-2">{{ problem.detail }}</p>
        <p v-if="waits" role="status" class="col-span-2">{{ waits }}</p>
        <button class="button-main col-span-2">{{ says('save-tester') }}</button>
      </form>
      <form class="grid content-start gap-3" novalidate @submit.prevent="compare">
        <h2 class="border-b border-rule pb-1 font-semibold">{{ says('check-one-gauge-against-another') }}</h2>
        <p class="text-soft">{{ says('both-same-pressures-one-unit') }}</p>
        <LabelledField :label="says('one-reads')"
          ><input v-model="one" class="field figures" placeholder="150 152 148"
        /></LabelledField>
        <LabelledField :label="says('other-reads')" :fault="checkFault || undefined"
          ><input v-model="other" class="field figures" placeholder="156 158 153"
        /></LabelledField>
        <button class="button-plain">{{ says('compare') }}</button>
        <p v-if="check" class="text-lg" aria-live="polite">
          <SaidAround
            :parts="
              says.around(check.difference < 0 ? 'other-lower' : 'other-higher', 'difference', {
                share: rounded(Math.abs(check.ratio_pct), 1),
                doubt: rounded(2 * check.se, 1),
              })
            "
            ><b class="figures">{{ rounded(Math.abs(check.difference), 1) }}</b></SaidAround
          >
          {{ check.real ? says('difference-real-enter-as-offset') : says('within-their-scatter') }}
        </p>
      </form>
    </div>
  </main>
</template>
