<script setup lang="ts">
import { longest, words } from '@/api/constants.gen'
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, useTemplateRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { faultOf, type Schemas } from '@/api/client'
import { protocolsQuery, testersQuery } from '@/api/queries'
import KeyCap from '@/components/KeyCap.vue'
import LabelledField from '@/components/LabelledField.vue'
import { noFigure } from '@/composables/figure'
import { asTyped, fromField, inField, unitFor } from '@/composables/shown'
import { useKeys } from '@/composables/useKeys'
import { vShown } from '@/composables/vShown'
import type { Work } from '@/composables/useSheet'
import { isDiesel, madeSafe, stopWhen } from './cranking'
import TickList from './TickList.vue'
import { sayer } from '@/words/say'
import { worded } from '@/words/values'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

const props = defineProps<{ work: Work }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const sheet = computed(() => props.work.sheet.value!)
const s = computed(() => sheet.value.session)
const c = computed(() => s.value.conditions ?? {})
const protocols = useQuery(protocolsQuery)
const testers = useQuery(testersQuery)
/** A protocol that is of diesels alone is offered to none but them, unless it was chosen. */
const fittingProtocols = computed(() =>
  (protocols.data.value ?? []).filter(
    (p) => p.id !== 'diesel' || isDiesel(sheet.value.engine) || sheet.value.protocol.id === p.id,
  ),
)
const list = useTemplateRef('list')

type Head = Parameters<Work['patch']>[0]
const set = (head: Head) => props.work.patch(head)
const condition = (part: NonNullable<Head['conditions']>) => set({ conditions: part })
const fault = (field: string) => faults[field] ?? faultOf(props.work.headProblem.value, field)

// A figure that cannot be kept stays in its field, marked, until it is typed anew; one that is kept is shown as the server
// has it.
const typed = reactive<Record<string, string>>({})
const faults = reactive<Record<string, string>>({})
watch(props.work.headProblem, (problem) => {
  for (const field of Object.keys(typed)) {
    const refused = faultOf(problem, field)
    if (refused) faults[field] = refused
  }
})
watch(
  () => [props.work.headWaits.value, sheet.value.revision] as const,
  ([onTheWay]) => onTheWay || Object.keys(typed).forEach((k) => faults[k] || delete typed[k]),
)
/** A figure of the head, typed in the unit chosen for the log's, or with a unit of its own. */
function figure(field: string, event: Event, keep: (value: number | null) => unknown, unit = '') {
  const text = (event.target as HTMLInputElement).value.trim()
  if (typed[field] === text) return // it is on its way already, or stands there refused
  delete faults[field]
  typed[field] = text
  if (text === '') return keep(null)
  const value = fromField(text, unit)!
  if (!Number.isNaN(value)) return keep(value)
  faults[field] = noFigure(text)
}
/** A cylinder that the repair touched, or not after all. */
function touch(cylinder: number) {
  const now = s.value.touched ?? []
  const next = now.includes(cylinder) ? now.filter((c) => c !== cylinder) : [...now, cylinder].sort((a, b) => a - b)
  return set({ touched: next.length ? next : null })
}
const word = (event: Event) => (event.target as HTMLSelectElement).value

function protocol(id: string) {
  const p = protocols.data.value?.find((x) => x.id === id)
  return set({
    protocol: id,
    ...(p ? { conditions: { plugs_out: p.plugs_out, engine_temp: p.temp, cranking: p.cranking } } : {}),
  })
}

/** The rule of stopping, with the usual figure for it. */
const rules = {
  plateau: { rule: 'plateau', count: null, seconds: null },
  count: { rule: 'count', count: 6, seconds: null },
  time: { rule: 'time', seconds: 5, count: null },
} as const
const crank = (rule: string) => condition({ cranking: rules[rule as keyof typeof rules] })

/** The gauge was noted wrongly: the readings that stand with another were made with the one that the head names. */
const readWith = (o: Schemas['Other']) =>
  props.work.enterAll(
    'move',
    o.readings.map((entry) => ({ entry, tester: o.to })),
  )

const figures = [
  { key: 'battery_v', words: says('battery-at-start'), unit: 'V' },
  { key: 'battery_end_v', words: says('battery-at-end'), unit: 'V' },
  { key: 'oil_temp_c', words: says('oil-temperature'), unit: '°C' },
  { key: 'ambient_c', words: says('air-temperature'), unit: '°C' },
  { key: 'ambient_kpa', words: says('air-pressure-if-measured'), unit: 'kPa' },
  { key: 'altitude_m', words: says('altitude'), unit: 'm' },
] as const
/** What goes through with the fuel has no temperature of its own. */
const fittingFigures = computed(() =>
  figures.filter((f) => f.key !== 'oil_temp_c' || sheet.value.engine.kind !== 'two-stroke'),
)
/** A figure of the conditions, with how it was typed. */
const measuredAs = (f: (typeof figures)[number], value: number | null, event: Event) => {
  const text = asTyped((event.target as HTMLInputElement).value, f.unit)
  const typedBefore = c.value.typed?.[f.key] ?? ''
  const typed = text === typedBefore ? {} : { typed: { [f.key]: text } }
  return { [f.key]: value, ...typed } as Schemas['Conditions']
}
/** A figure of the conditions as its field shows it: as it was typed while that is on its way, else in the unit chosen. */
const shownFigure = (f: (typeof figures)[number]) => {
  const value = c.value[f.key]
  return (
    typed[`conditions.${f.key}`] ??
    (value === undefined ? undefined : inField(value, f.unit, undefined, c.value.typed?.[f.key]))
  )
}

const kinds = (kind: string) => testers.data.value?.filter((t) => t.kind === kind) ?? []

useKeys([
  { keys: ['Tab'], does: says('next-line') },
  { keys: [' '], does: says('tick') },
  { keys: ['a'], does: says('tick-all-left'), run: () => list.value?.rest() },
  { keys: ['Enter'], does: says('go-dry-test'), run: () => emit('done') },
  { keys: ['Escape'], does: says('leave-sheet-everything-saved'), run: () => emit('leave') },
])
</script>

<template>
  <div class="grid gap-x-10 gap-y-6 py-5 lg:grid-cols-[minmax(0,9fr)_minmax(0,8fr)]">
    <section>
      <h2 class="text-2xl font-medium">{{ says('prepare-make-safe') }}</h2>
      <p class="mb-2 text-soft">
        {{ says('list-fits-engine-where-marked') }}
      </p>
      <p v-if="work.draft.value" class="border-l-4 border-watch py-1 pl-3 text-lg" data-draft>
        {{ says('cant-reach-braxel-list-for', { engine: madeSafe(sheet.engine) }) }}
      </p>
      <TickList ref="list" :work="work" :tasks="sheet.before" />
      <div class="mt-4 flex flex-wrap gap-3">
        <button class="button-main min-h-14 grow text-xl" @click="$emit('done')">
          {{ sheet.rotors ? says('go-faces') : says('go-dry-test-2') }} <KeyCap>{{ says('enter') }}</KeyCap>
        </button>
        <button class="button-plain min-h-14" @click="list?.rest()">{{ says('tick-rest') }} <KeyCap>a</KeyCap></button>
      </div>
    </section>
    <form class="grid grid-cols-2 content-start gap-3" :aria-label="says('how-tested')" @submit.prevent>
      <LabelledField :label="says('protocol')" class="col-span-2">
        <select class="field" :value="sheet.protocol.id" @change="protocol(word($event))">
          <option v-for="p in fittingProtocols" :key="p.id" :value="p.id">{{ p.name }}</option>
        </select>
      </LabelledField>
      <p class="col-span-2 -mt-1 text-[0.95rem] text-soft">
        <!-- The faces of a rotary are read in a way of their own, said where they are read. -->
        <template v-if="!sheet.rotors">{{
          says('crank-2', {
            cranking: stopWhen(c.cranking),
            pulls: {
              agree: says('repeat-until-two-row-agree'),
              three: says('three-readings-averaged'),
              one: says('one-reading'),
            }[sheet.protocol.pulls],
          })
        }}</template>
        <RouterLink to="/protocols" class="link">{{ says('change-protocols') }}</RouterLink>
      </p>
      <LabelledField :label="says('date')" :fault="fault('date')">
        <input
          v-shown="s.date"
          type="date"
          class="field figures"
          @change="
            ($event.target as HTMLInputElement).value && set({ date: ($event.target as HTMLInputElement).value })
          "
        />
      </LabelledField>
      <LabelledField :label="says('stage')">
        <select class="field" :value="s.stage" @change="set({ stage: word($event) as Head['stage'] })">
          <option v-for="x in words.Session.stage" :key="x" :value="x">{{ worded(x) }}</option>
        </select>
      </LabelledField>
      <fieldset v-if="s.stage === 'after-repair'" class="col-span-2" data-touched>
        <legend class="text-[0.95rem] text-soft">
          {{ says('cylinders-repair-touched-their-baseline') }}
        </legend>
        <div class="mt-1 flex flex-wrap gap-2">
          <button
            v-for="cell in sheet.cells"
            :key="cell.cylinder"
            type="button"
            class="choice figures min-w-11"
            :aria-pressed="s.touched?.includes(cell.cylinder) ?? false"
            @click="touch(cell.cylinder)"
          >
            {{ cell.cylinder }}
          </button>
        </div>
      </fieldset>
      <LabelledField :label="says('where')">
        <select class="field" :value="s.place" @change="set({ place: word($event) as Head['place'] })">
          <option value="car">{{ says('car-or-boat') }}</option>
          <option value="stand">{{ says('stand') }}</option>
          <option value="dyno">{{ says('dyno') }}</option>
        </select>
      </LabelledField>
      <LabelledField :label="says('meter-in', { unit: sheet.engine.meter_unit ?? 'h' })" :fault="fault('meter')">
        <input
          v-shown="typed['meter'] ?? s.meter"
          class="field figures text-xl"
          inputmode="decimal"
          :placeholder="sheet.last_meter === undefined ? '' : says('last-2', { last_meter: sheet.last_meter })"
          @change="figure('meter', $event, (v) => set({ meter: v }))"
        />
      </LabelledField>
      <LabelledField :label="says('engine')">
        <select class="field" :value="c.engine_temp" @change="condition({ engine_temp: word($event) as 'hot' })">
          <option v-for="x in words.Conditions.engine_temp" :key="x" :value="x">{{ worded(x) }}</option>
        </select>
      </LabelledField>
      <LabelledField :label="isDiesel(sheet.engine) ? says('glow-plugs-or-injectors-out') : says('plugs-out')">
        <select class="field" :value="c.plugs_out" @change="condition({ plugs_out: word($event) as 'all' })">
          <option value="all">{{ says('all-together') }}</option>
          <option value="one">{{ says('one-at-time') }}</option>
        </select>
      </LabelledField>
      <LabelledField v-if="!isDiesel(sheet.engine)" :label="says('throttle')">
        <select class="field" :value="c.throttle" @change="condition({ throttle: word($event) as 'open' })">
          <option value="open">{{ says('held-open') }}</option>
          <option value="closed">{{ says('closed') }}</option>
          <option value="none">{{ says('none-fitted') }}</option>
        </select>
      </LabelledField>
      <LabelledField :label="says('stop-cranking')">
        <select class="field" :value="c.cranking?.rule ?? 'plateau'" @change="crank(word($event))">
          <option value="plateau">{{ says('when-needle-stops-rising') }}</option>
          <option value="count">{{ says('after-set-number-compressions') }}</option>
          <option value="time">{{ says('after-set-time') }}</option>
        </select>
      </LabelledField>
      <LabelledField
        v-if="c.cranking?.rule === 'count'"
        :label="says('compressions-for-each-cylinder')"
        :fault="fault('conditions.cranking.count')"
      >
        <input
          v-shown="typed['conditions.cranking.count'] ?? c.cranking.count"
          class="field figures"
          inputmode="numeric"
          @change="
            figure('conditions.cranking.count', $event, (v) =>
              condition({ cranking: { rule: 'count', count: v ?? undefined } }),
            )
          "
        />
      </LabelledField>
      <LabelledField
        v-else-if="c.cranking?.rule === 'time'"
        :label="says('seconds-for-each-cylinder')"
        :fault="fault('conditions.cranking.seconds')"
      >
        <input
          v-shown="typed['conditions.cranking.seconds'] ?? c.cranking.seconds"
          class="field figures"
          inputmode="decimal"
          @change="
            figure('conditions.cranking.seconds', $event, (v) =>
              condition({ cranking: { rule: 'time', seconds: v ?? undefined } }),
            )
          "
        />
      </LabelledField>
      <LabelledField :label="says('compression-gauge')">
        <select class="field" :value="s.gauge ?? ''" @change="set({ gauge: word($event) })">
          <option value="">{{ says('not-noted') }}</option>
          <option v-for="t in kinds('compression')" :key="t.id" :value="t.id">{{ t.name || t.id }}</option>
        </select>
      </LabelledField>
      <LabelledField v-if="!sheet.rotors" :label="says('leak-down-tester')">
        <select class="field" :value="s.kit ?? ''" @change="set({ kit: word($event) })">
          <option value="">{{ says('not-noted') }}</option>
          <option v-for="t in kinds('leakdown')" :key="t.id" :value="t.id">{{ t.name || t.id }}</option>
        </select>
      </LabelledField>
      <LabelledField
        v-for="f in fittingFigures"
        :key="f.key"
        :label="says('in-unit', { what: f.words, unit: unitFor(f.unit) })"
        :fault="fault(`conditions.${f.key}`)"
      >
        <input
          v-shown="shownFigure(f)"
          class="field figures"
          inputmode="decimal"
          @change="figure(`conditions.${f.key}`, $event, (v) => condition(measuredAs(f, v, $event)), f.unit)"
        />
      </LabelledField>
      <LabelledField :label="says('tested')" :fault="fault('operator')">
        <input
          v-shown="s.operator"
          class="field"
          :maxlength="longest.Session.operator"
          @change="set({ operator: ($event.target as HTMLInputElement).value })"
        />
      </LabelledField>
      <LabelledField v-if="sheet.builds?.length" :label="says('build')">
        <select class="field" :value="s.build" @change="set({ build: word($event) })">
          <option v-for="b in sheet.builds" :key="b.id" :value="b.id">{{ b.what || b.id }}</option>
        </select>
      </LabelledField>
      <LabelledField :label="says('note')" class="col-span-2" :fault="fault('note')">
        <textarea
          v-shown="s.note"
          class="field"
          rows="2"
          :maxlength="longest.Session.note"
          @change="set({ note: ($event.target as HTMLTextAreaElement).value })"
        />
      </LabelledField>
      <p
        v-for="o in sheet.others"
        :key="`${o.tester} ${o.to}`"
        class="col-span-2 border-l-4 border-watch pl-3"
        data-others
      >
        {{
          says('with', {
            n: o.readings.length,
            name: o.name,
          })
        }}
        <button type="button" class="link min-h-11" @click="readWith(o)">
          {{ says('they-were-taken-with', { to_name: o.to_name }) }}
        </button>
      </p>
      <label class="col-span-2 flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          class="size-6 accent-verdigris"
          :checked="c.charger"
          @change="condition({ charger: !c.charger })"
        />
        {{ says('charger-or-second-battery') }}
      </label>
      <label class="col-span-2 flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          class="size-6 accent-verdigris"
          :checked="s.baseline"
          @change="set({ baseline: !s.baseline })"
        />
        {{ says('test-baseline-what-engine-reads') }}
      </label>
    </form>
  </div>
</template>
