<script setup lang="ts">
import { longest, words } from '@/api/constants.gen'
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, useTemplateRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { faultOf, type Schemas } from '@/api/client'
import { protocolsQuery, testersQuery } from '@/api/queries'
import KeyCap from '@/components/KeyCap.vue'
import LabelledField from '@/components/LabelledField.vue'
import { figureOf, noFigure } from '@/composables/figure'
import { useKeys } from '@/composables/useKeys'
import { vShown } from '@/composables/vShown'
import type { Work } from '@/composables/useSheet'
import { isDiesel, madeSafe, stopWhen } from './cranking'
import TickList from './TickList.vue'

const props = defineProps<{ work: Work }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const sheet = computed(() => props.work.sheet.value!)
const s = computed(() => sheet.value.session)
const c = computed(() => s.value.conditions ?? {})
const protocols = useQuery(protocolsQuery)
const testers = useQuery(testersQuery)
const list = useTemplateRef('list')

type Head = Parameters<Work['patch']>[0]
const set = (head: Head) => props.work.patch(head)
const condition = (part: Schemas['Conditions']) => set({ conditions: part })
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
function figure(field: string, event: Event, keep: (value: number | null) => unknown) {
  const text = (event.target as HTMLInputElement).value.trim()
  if (typed[field] === text) return // it is on its way already, or stands there refused
  delete faults[field]
  typed[field] = text
  if (text === '') return keep(null)
  const value = figureOf(text)!
  if (!Number.isNaN(value)) return keep(value)
  faults[field] = noFigure(text)
}
/** A cylinder that the repair touched, or not after all. */
function touch(cylinder: number) {
  const now = s.value.touched ?? []
  const next = now.includes(cylinder) ? now.filter((c) => c !== cylinder) : [...now, cylinder].sort((a, b) => a - b)
  return set({ touched: next.length ? next : null } as unknown as Head)
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
const crank = (rule: string) =>
  condition({
    cranking: {
      plateau: { rule: 'plateau', count: null, seconds: null },
      count: { rule: 'count', count: 6, seconds: null },
      time: { rule: 'time', seconds: 5, count: null },
    }[rule] as unknown as Schemas['Cranking'],
  })

/** The gauge was noted wrongly: the readings that stand with another were made with the one that the head names. */
const readWith = (o: Schemas['Other']) =>
  props.work.enterAll(
    'move',
    o.readings.map((entry) => ({ entry, tester: o.to })),
  )

const figures = [
  { key: 'battery_v', words: 'Battery at the start, V' },
  { key: 'battery_end_v', words: 'Battery at the end, V' },
  { key: 'altitude_m', words: 'Altitude, m' },
  { key: 'ambient_kpa', words: 'Air pressure, kPa, if measured' },
] as const

const stages = [
  'as-found',
  'pre-install',
  'after-running',
  'dyno',
  'pre-season',
  'service',
  'between-runs',
  'post-season',
  'after-incident',
  'after-repair',
]
const kinds = (kind: string) => testers.data.value?.filter((t) => t.kind === kind) ?? []

useKeys([
  { keys: ['Tab'], does: 'next line' },
  { keys: [' '], does: 'tick it' },
  { keys: ['a'], does: 'tick all that are left', run: () => list.value?.rest() },
  { keys: ['Enter'], does: 'go on to the dry test', run: () => emit('done') },
  { keys: ['Escape'], does: 'leave the sheet; it is kept', run: () => emit('leave') },
])
</script>

<template>
  <div class="grid gap-x-10 gap-y-6 py-5 lg:grid-cols-[minmax(0,9fr)_minmax(0,8fr)]">
    <section>
      <h2 class="text-2xl font-medium">Make ready, make safe</h2>
      <p class="mb-2 text-soft">
        The list fits this engine where it stands. A bar at the side: it keeps somebody from harm.
      </p>
      <p v-if="work.draft.value" class="border-l-4 border-watch py-1 pl-3 text-lg" data-draft>
        Braxel cannot be reached: the list for this engine comes when it is back. {{ madeSafe(sheet.engine) }} In
        neutral and chocked, every lead and fuse that comes off noted; hands clear of belts and fan.
      </p>
      <TickList ref="list" :work="work" :tasks="sheet.before" />
      <div class="mt-4 flex flex-wrap gap-3">
        <button class="button-main min-h-14 grow text-xl" @click="$emit('done')">
          Go on to the dry test <KeyCap>Enter</KeyCap>
        </button>
        <button class="button-plain min-h-14" @click="list?.rest()">Tick the rest <KeyCap>a</KeyCap></button>
      </div>
    </section>
    <form class="grid grid-cols-2 content-start gap-3" aria-label="How it is tested" @submit.prevent>
      <LabelledField label="Protocol" class="col-span-2">
        <select class="field" :value="sheet.protocol.id" @change="protocol(word($event))">
          <option v-for="p in protocols.data.value" :key="p.id" :value="p.id">{{ p.name }}</option>
        </select>
      </LabelledField>
      <p class="col-span-2 -mt-1 text-[0.95rem] text-soft">
        Crank {{ stopWhen(c.cranking) }};
        {{
          { agree: 'pull until two in a row agree', three: 'three pulls, averaged', one: 'one pull' }[
            sheet.protocol.pulls
          ]
        }}.
        <RouterLink to="/protocols" class="link">Change protocols</RouterLink>
      </p>
      <LabelledField label="Date" :fault="fault('date')">
        <input
          v-shown="s.date"
          type="date"
          class="field figures"
          @change="
            ($event.target as HTMLInputElement).value && set({ date: ($event.target as HTMLInputElement).value })
          "
        />
      </LabelledField>
      <LabelledField label="Stage">
        <select class="field" :value="s.stage" @change="set({ stage: word($event) as Head['stage'] })">
          <option v-for="x in stages" :key="x" :value="x">{{ x.replaceAll('-', ' ') }}</option>
        </select>
      </LabelledField>
      <fieldset v-if="s.stage === 'after-repair'" class="col-span-2" data-touched>
        <legend class="text-[0.95rem] text-soft">
          Cylinders that the repair touched: their baseline begins anew; none picked, all
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
      <LabelledField label="Where it is">
        <select class="field" :value="s.place" @change="set({ place: word($event) as Head['place'] })">
          <option value="car">in the car or boat</option>
          <option value="stand">on a stand</option>
          <option value="dyno">on the dyno</option>
        </select>
      </LabelledField>
      <LabelledField :label="`Meter, ${sheet.engine.meter_unit ?? 'h'}`" :fault="fault('meter')">
        <input
          v-shown="typed['meter'] ?? s.meter"
          class="field figures text-xl"
          inputmode="decimal"
          :placeholder="sheet.last_meter === undefined ? '' : `last ${sheet.last_meter}`"
          @change="figure('meter', $event, (v) => set({ meter: v }))"
        />
      </LabelledField>
      <LabelledField label="Engine">
        <select class="field" :value="c.engine_temp" @change="condition({ engine_temp: word($event) as 'hot' })">
          <option v-for="x in words.Conditions.engine_temp" :key="x">{{ x }}</option>
        </select>
      </LabelledField>
      <LabelledField :label="isDiesel(sheet.engine) ? 'Glow plugs or injectors out' : 'Plugs out'">
        <select class="field" :value="c.plugs_out" @change="condition({ plugs_out: word($event) as 'all' })">
          <option value="all">all together</option>
          <option value="one">one at a time</option>
        </select>
      </LabelledField>
      <LabelledField v-if="!isDiesel(sheet.engine)" label="Throttle">
        <select class="field" :value="c.throttle" @change="condition({ throttle: word($event) as 'open' })">
          <option value="open">held open</option>
          <option value="closed">closed</option>
          <option value="none">none fitted</option>
        </select>
      </LabelledField>
      <LabelledField label="Stop cranking">
        <select class="field" :value="c.cranking?.rule ?? 'plateau'" @change="crank(word($event))">
          <option value="plateau">when the needle stops rising</option>
          <option value="count">after so many beats</option>
          <option value="time">after so many seconds</option>
        </select>
      </LabelledField>
      <LabelledField
        v-if="c.cranking?.rule === 'count'"
        label="Beats for each cylinder"
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
        label="Seconds for each cylinder"
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
      <LabelledField label="Compression gauge">
        <select class="field" :value="s.gauge ?? ''" @change="set({ gauge: word($event) })">
          <option value="">not noted</option>
          <option v-for="t in kinds('compression')" :key="t.id" :value="t.id">{{ t.name || t.id }}</option>
        </select>
      </LabelledField>
      <LabelledField label="Leak-down tester">
        <select class="field" :value="s.kit ?? ''" @change="set({ kit: word($event) })">
          <option value="">not noted</option>
          <option v-for="t in kinds('leakdown')" :key="t.id" :value="t.id">{{ t.name || t.id }}</option>
        </select>
      </LabelledField>
      <LabelledField v-for="f in figures" :key="f.key" :label="f.words" :fault="fault(`conditions.${f.key}`)">
        <input
          v-shown="typed[`conditions.${f.key}`] ?? c[f.key]"
          class="field figures"
          inputmode="decimal"
          @change="figure(`conditions.${f.key}`, $event, (v) => condition({ [f.key]: v } as Schemas['Conditions']))"
        />
      </LabelledField>
      <LabelledField label="Tested by" :fault="fault('operator')">
        <input
          v-shown="s.operator"
          class="field"
          :maxlength="longest.Session.operator"
          @change="set({ operator: ($event.target as HTMLInputElement).value })"
        />
      </LabelledField>
      <LabelledField v-if="sheet.builds?.length" label="Build">
        <select class="field" :value="s.build" @change="set({ build: word($event) })">
          <option v-for="b in sheet.builds" :key="b.id" :value="b.id">{{ b.what || b.id }}</option>
        </select>
      </LabelledField>
      <LabelledField label="Note" class="col-span-2" :fault="fault('note')">
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
        {{ o.readings.length === 1 ? 'One reading stands' : `${o.readings.length} readings stand` }} with “{{
          o.name
        }}”.
        <button type="button" class="link min-h-11" @click="readWith(o)">They were read with “{{ o.to_name }}”</button>
      </p>
      <label class="col-span-2 flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          class="size-6 accent-verdigris"
          :checked="c.charger"
          @change="condition({ charger: !c.charger })"
        />
        charger or second battery on
      </label>
      <label class="col-span-2 flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          class="size-6 accent-verdigris"
          :checked="s.baseline"
          @change="set({ baseline: !s.baseline })"
        />
        this test defines the baseline: what the engine reads when it is right
      </label>
    </form>
  </div>
</template>
