<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { longest } from '@/api/constants.gen'
import { rulebookQuery } from '@/api/queries'
import { computed, reactive, ref, watch } from 'vue'
import { faultOf, type Problem } from '@/api/client'
import { useDraft } from '@/composables/useDraft'
import { useHandIn } from '@/composables/useHandIn'
import { today as todayHere } from '@/api/clock'
import { problemOf } from '@/composables/useSheet'
import { drop, tell, type Typed } from '@/outbox/useOutbox'
import FigureField from './FigureField.vue'
import LabelledField from './LabelledField.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** What is noted already, to be put right: what it says, and the entry behind it; of a build its id. */
export interface Happened {
  kind: string
  entry: string
  id?: string
  date: string
  meter?: number
  what: string
  asks?: string
  work?: string
  cylinders?: number[]
  after?: string
}

/** Notes what happened between tests: an event, a rebuild, a line of the notebook; or puts one right. */
const props = defineProps<{ engine: string; unit: string; today: string; was?: Happened }>()
const emit = defineEmits<{ kept: [words: string]; repair: [] }>()
const form = reactive({
  kind: props.was?.kind ?? 'event',
  asks: props.was?.asks ?? '',
  date: props.was?.date ?? [todayHere(), props.today].sort().at(-1)!,
  meter: props.was?.meter,
  what: props.was?.what ?? '',
})
const draft = useDraft(
  says('happened', { engine: props.engine, entry: props.was?.entry ?? '' }),
  () => ({ ...form }),
  (typed) => Object.assign(form, typed),
)
draft.begin()
watch(
  () => form.kind,
  (kind) => {
    if (kind !== 'repair') return
    form.kind = 'event'
    emit('repair')
  },
)
const problem = ref<Problem>()
/** What of an event asks for a test; left open, its words say it. */
const rulebook = useQuery(rulebookQuery)
/** A repair has a form of its own. */
const asking = computed(() => rulebook.data.value?.happenings?.filter((h) => h.kind !== 'repair') ?? [])

const { handIn: keep } = useHandIn(async (id, done) => {
  const { date, meter } = form
  const what = form.what.trim()
  if (Number.isNaN(meter)) return // its field says so
  const { was } = props
  const body =
    form.kind === 'build'
      ? { id: was?.id ?? `b-${id}`, date, what }
      : form.kind === 'note'
        ? { date, text: what }
        : { date, what, meter, ...(form.asks ? { kind: form.asks } : {}) }
  const before = was?.kind === 'build' ? { was: { date: was.date || null, what: was.what } } : {}
  const outcome = await tell({ id, kind: form.kind, engine: props.engine, body, ...before } as Typed<'event'>)
  if (outcome.is === 'refused') {
    await drop(outcome.entry.id)
    problem.value = problemOf(outcome)
    return
  }
  // A build is changed field by field; what happened is written anew, and the line that was wrong is struck.
  if (was && was.kind !== 'build') {
    void tell({ kind: 'strike', engine: props.engine, body: { entry: was.entry, why: says('corrected') } })
  }
  Object.assign(form, { what: '', meter: undefined, asks: '' })
  problem.value = undefined
  draft.done()
  done()
  emit('kept', outcome.is === 'waiting' ? says('waits-sent') : '')
})
</script>

<template>
  <form class="flex max-w-5xl flex-wrap items-end gap-3 py-3" novalidate @submit.prevent="keep">
    <LabelledField v-if="!was" :label="says('what-happened')" class="w-36">
      <select v-model="form.kind" class="field">
        <option value="event">{{ says('event') }}</option>
        <option value="repair">{{ says('repair') }}</option>
        <option value="build">{{ says('new-build') }}</option>
        <option value="note">{{ says('note') }}</option>
      </select>
    </LabelledField>
    <LabelledField :label="says('date')" class="w-40" :fault="faultOf(problem, 'date')"
      ><input v-model="form.date" type="date" class="field figures"
    /></LabelledField>
    <FigureField
      v-if="form.kind === 'event'"
      v-model="form.meter"
      class="w-28"
      :label="says('meter-in', { unit })"
      :fault="faultOf(problem, 'meter')"
    />
    <LabelledField
      :label="says('your-words')"
      class="min-w-60 grow"
      :fault="faultOf(problem, 'what') ?? faultOf(problem, 'text')"
      ><input
        v-model="form.what"
        class="field"
        :maxlength="
          form.kind === 'note' ? longest.Note.text : form.kind === 'build' ? longest.Build.what : longest.Event.what
        "
        required
    /></LabelledField>
    <button class="button-main">{{ says('save') }}</button>
    <LabelledField v-if="form.kind === 'event'" :label="says('needs-test-because')" class="basis-full sm:max-w-md">
      <select v-model="form.asks" class="field">
        <option value="">{{ says('nothing-special') }}</option>
        <option v-for="h in asking" :key="h.kind" :value="h.kind">{{ h.words }}</option>
      </select>
    </LabelledField>
    <p v-if="form.kind === 'build' && !was" class="basis-full text-soft">
      {{ says('new-build-starts-new-baseline') }}
    </p>
    <p v-if="problem && !problem.errors" role="alert" class="basis-full font-semibold">{{ problem.detail }}</p>
  </form>
</template>
