<script setup lang="ts">
import { longest } from '@/api/constants.gen'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { rulebookQuery } from '@/api/queries'
import KeyCap from '@/components/KeyCap.vue'
import FigureField from '@/components/FigureField.vue'
import { withUnit } from '@/composables/shown'
import LabelledField from '@/components/LabelledField.vue'
import { useHandIn } from '@/composables/useHandIn'
import { useKeys } from '@/composables/useKeys'
import { useTyped } from '@/composables/useTyped'
import type { Work } from '@/composables/useSheet'
import { drop } from '@/outbox/useOutbox'
import { isDiesel } from './cranking'
import MarkDialog from './MarkDialog.vue'
import { photoAddress, usePicture } from '@/composables/photo'
import { useMarks } from './useMarks'
import SaidAround from '@/components/SaidAround.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

type Observation = Schemas['Observation']

const props = defineProps<{ work: Work }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const sheet = computed(() => props.work.sheet.value!)
const rulebook = useQuery(rulebookQuery)
const words = computed(() => rulebook.data.value?.looks?.[sheet.value.engine.kind] ?? {})
const all = computed(() => sheet.value.session.observations ?? [])
const noted = computed(() => all.value.filter((o) => !o.struck))
const marks = useMarks(props.work, () => undefined)
const called = (o: Observation) =>
  [
    kinds.find((k) => k.what === (o.item ?? o.what))?.words ?? says('plug-2'),
    o.cylinder,
    o.finding,
    o.value === undefined ? undefined : withUnit(o.value, o.unit ?? ''),
    o.note,
  ]
    .filter((part) => part !== undefined && part !== '')
    .join(' ')
const order = computed(() => sheet.value.cells.map((c) => c.cylinder))
const noun = computed(() => (sheet.value.engine.kind === 'rotary' ? says('rotor-2') : says('cylinder-4')))

// Plugs are read in order: one key each, and on to the next.
const chosen = ref<number>()
const plugOf = (c: number) =>
  [
    ...props.work
      .waiting('look')
      .map((e) => e.body)
      .reverse(),
    ...[...noted.value].reverse(),
  ].find((o) => o.what === 'plug' && o.cylinder === c)?.finding
const plug = computed(() => chosen.value ?? order.value.find((c) => !plugOf(c)) ?? order.value.at(-1)!)
const hasPlugs = computed(() => !isDiesel(sheet.value.engine))
const plugFault = ref('')
const plugWords = computed(() => words.value.plug ?? [])
async function read(finding: string | undefined) {
  if (!finding || !hasPlugs.value) return
  const cylinder = plug.value
  chosen.value = undefined
  const { is, answer } = await props.work.enter('look', { what: 'plug', cylinder, finding })
  plugFault.value = is === 'refused' ? (answer?.why ?? says('not-saved')) : ''
}

function askPlug(c: number) {
  const last = noted.value.findLast((o) => o.what === 'plug' && o.cylinder === c)
  if (last) marks.ask(last, called(last), c)
}

/** The plugs that nobody has spoken of yet look good: said by hand, once for all of them. */
async function restGood() {
  const finding = plugWords.value[0]
  if (!finding || !hasPlugs.value || !sheet.value.session.open) return
  const left = order.value.filter((c) => !plugOf(c))
  await props.work.enterAll(
    'look',
    left.map((cylinder) => ({ what: 'plug', cylinder, finding })),
  )
}

type Seen = Observation['what'] | 'found'
const kinds: { what: Seen; words: string; each?: boolean; unit?: string }[] = [
  { what: 'borescope', words: says('borescope'), each: true },
  { what: 'coil', words: says('coil'), each: true },
  { what: 'ports', words: says('ports'), each: true },
  { what: 'lash', words: says('valve-lash'), each: true, unit: 'mm' },
  { what: 'stroke-marks', words: says('stroke-marks'), each: true, unit: 'mm' },
  { what: 'oil', words: says('oil') },
  { what: 'coolant', words: says('coolant') },
  { what: 'oil-pressure', words: says('oil-pressure'), unit: 'psi' },
  { what: 'end-play', words: says('crank-end-play'), unit: 'mm' },
  { what: 'found', words: says('found-when-opened'), each: true },
  { what: 'other', words: says('something-else') },
]
const empty = {
  what: 'borescope' as Seen,
  cylinder: 0,
  finding: '',
  value: undefined as number | undefined,
  note: '',
}
const form = useTyped(props.work, 'look', empty).value
/** What has a place of its own: the inspection's page, the recordings beside the readings. */
const elsewhere = (o: Observation) => !!o.trace || (!!o.item && o.item !== 'found')
/** What this kind of engine has to be looked at: what is chosen from, or measured. */
const fitting = computed(() =>
  kinds.filter(
    (k) =>
      (words.value[k.what] ||
        k.what === 'other' ||
        k.what === 'end-play' ||
        (k.what === 'oil-pressure' && words.value.oil)) &&
      // What fires by itself has no coils.
      (k.what !== 'coil' || !isDiesel(sheet.value.engine)),
  ),
)
const kind = computed(() => kinds.find((k) => k.what === form.what)!)
const fault = ref('')
const { handIn: keep } = useHandIn(async (_, done) => {
  const { value } = form
  if (Number.isNaN(value)) return // its field says so
  if (value === undefined && !form.finding && !form.note) return (fault.value = says('say-what-you-saw-or'))
  fault.value = ''
  const body: Observation = form.what === 'found' ? { what: 'other', item: 'found' } : { what: form.what }
  if (kind.value.each && form.cylinder) body.cylinder = form.cylinder
  if (form.finding) body.finding = form.finding
  if (value !== undefined) Object.assign(body, { value, unit: kind.value.unit })
  if (form.note) body.note = form.note
  const { is, answer, entry } = await props.work.enter('look', body)
  if (is !== 'refused') {
    Object.assign(form, { finding: '', value: undefined, note: '' })
    return done()
  }
  await drop(entry.id)
  fault.value = answer?.why ?? says('not-saved')
})

const { word: picture, take: photo } = usePicture((taken) =>
  props.work.enter('photo', { note: form.note || undefined, cylinder: form.cylinder || undefined }, taken),
)

useKeys([
  { keys: ['1…8'], does: says('how-plug-looks-then-next') },
  { keys: [...'12345678'], does: '', run: (e) => void read(plugWords.value[Number(e.key) - 1]) },
  { keys: ['a'], does: says('all-other-plugs-look-good'), run: () => void restGood() },
  { keys: ['Enter'], does: says('go-findings'), run: () => emit('done') },
  { keys: ['Escape'], does: says('leave-sheet-everything-saved'), run: () => emit('leave') },
])
</script>

<template>
  <div class="grid gap-x-10 gap-y-8 py-5 lg:grid-cols-2">
    <section>
      <template v-if="hasPlugs">
        <h2 class="text-2xl font-medium">
          <SaidAround :parts="says.around('how-does-plug', 'plug')"
            ><span class="figures font-semibold" data-current>{{ plug }}</span></SaidAround
          >
        </h2>
        <div class="mt-3 grid grid-cols-2 gap-2 sm:grid-cols-4">
          <button
            v-for="(w, i) in plugWords"
            :key="w"
            class="flex min-h-14 items-center justify-between border border-rule bg-sheet px-3 text-left text-lg"
            @click="read(w)"
          >
            {{ w }} <KeyCap class="max-sm:hidden">{{ i + 1 }}</KeyCap>
          </button>
        </div>
        <p v-if="plugFault" role="alert" class="mt-2 font-semibold" data-fault>{{ plugFault }}</p>
        <table class="mt-4 w-full">
          <tbody>
            <tr
              v-for="c in order"
              :key="c"
              class="cursor-pointer border-b border-track"
              :class="{ 'bg-verdigris-pale': c === plug }"
              @click="chosen = c"
            >
              <th scope="row" class="figures w-16 py-1.5 pl-2 text-left text-lg font-semibold">{{ c }}</th>
              <td>
                <span v-if="plugOf(c)" data-plug>{{ plugOf(c) }}</span>
              </td>
              <td class="text-right">
                <button
                  v-if="noted.some((o) => o.what === 'plug' && o.cylinder === c)"
                  class="link min-h-9"
                  @click.stop="askPlug(c)"
                >
                  {{ says('strike-2') }}<span class="sr-only"> {{ says('what-was-seen-plug', { cylinder: c }) }}</span>
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </template>
      <p v-else class="text-lg text-soft">{{ says('diesel-has-no-spark-plugs') }}</p>
      <div class="mt-5 flex flex-wrap gap-3">
        <button class="button-main min-h-14 grow text-xl" @click="$emit('done')">
          {{ says('go-findings-2') }} <KeyCap>{{ says('enter') }}</KeyCap>
        </button>
        <button v-if="hasPlugs && order.some((c) => !plugOf(c))" class="button-plain min-h-14" @click="restGood">
          {{ says('rest', { plugWords: plugWords[0] }) }} <KeyCap>a</KeyCap>
        </button>
      </div>
    </section>
    <section>
      <h2 class="text-2xl font-medium">{{ says('anything-else-seen-or-measured') }}</h2>
      <form class="mt-3 grid grid-cols-2 gap-3" @submit.prevent="keep">
        <LabelledField :label="says('looked-at')">
          <select v-model="form.what" class="field">
            <option v-for="k in fitting" :key="k.what" :value="k.what">{{ k.words }}</option>
          </select>
        </LabelledField>
        <LabelledField v-if="kind.each || form.what === 'other'" :label="says('photo-too', { noun })">
          <select v-model.number="form.cylinder" class="field">
            <option :value="0">{{ says('all') }}</option>
            <option v-for="c in order" :key="c" :value="c">{{ c }}</option>
          </select>
        </LabelledField>
        <FigureField
          v-if="kind.unit"
          v-model="form.value"
          :label="says('measured')"
          :unit="kind.unit"
          :of="kind.what === 'oil-pressure' ? 'pressure' : undefined"
          :fault="fault || undefined"
        />
        <LabelledField v-if="words[form.what]" :label="says('seen')" :fault="fault || undefined">
          <select v-model="form.finding" class="field">
            <option value=""></option>
            <option v-for="w in words[form.what]" :key="w">{{ w }}</option>
          </select>
        </LabelledField>
        <LabelledField
          :label="says('your-words')"
          class="col-span-2"
          :fault="kind.unit || words[form.what] ? undefined : fault || undefined"
          ><input v-model="form.note" class="field" :maxlength="longest.LookBody.note"
        /></LabelledField>
        <p v-if="form.what === 'coolant'" class="col-span-2 border-l-4 border-watch pl-3">
          {{ says('open-coolant-cap-only-when') }}
        </p>
        <button class="button-plain">{{ says('add') }}</button>
        <label class="button-plain cursor-pointer"
          >{{ says('photo') }}<input type="file" accept="image/*" capture="environment" class="sr-only" @change="photo"
        /></label>
        <p v-if="picture" role="alert" class="col-span-2">{{ picture }}</p>
      </form>
      <ul class="mt-4 border-t border-rule">
        <li
          v-for="o in all.filter((x) => !elsewhere(x) && (x.what !== 'plug' || x.struck))"
          :key="o.key"
          class="flex items-center gap-3 border-b border-track py-1.5"
        >
          <img
            v-if="o.finding === 'photo'"
            :src="photoAddress(work.engine, work.session, o.key ?? '')"
            :alt="o.note || says('photo-test')"
            class="h-20"
          />
          <span class="grow" :class="{ 'text-soft line-through': o.struck }">{{ called(o) }}</span>
          <span v-if="o.struck" class="text-soft">{{ o.struck }}</span>
          <button class="link min-h-11" @click="marks.ask(o, called(o), o.cylinder ?? 0)">
            {{ o.struck ? says('restore') : says('strike-2') }}<span class="sr-only"> {{ called(o) }}</span>
          </button>
        </li>
      </ul>
    </section>
    <MarkDialog :marks="marks" />
  </div>
</template>
