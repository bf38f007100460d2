<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { watchDebounced } from '@vueuse/core'
import { ref } from 'vue'
import { api, ask, Refused, type Schemas } from '@/api/client'
import LabelledField from '@/components/LabelledField.vue'
import PanelDialog from '@/components/PanelDialog.vue'
import { latest } from '@/composables/latest'
import { useHandIn } from '@/composables/useHandIn'
import { longDate } from '@/composables/useFormat'
import { drop, tellAll, type Typed } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/season.json'

const says = sayer(texts)

/** Many events at once: pasted as people write them, or from a calendar's file. */
defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const text = ref('')
const order = ref<'dmy' | 'mdy'>()
const came = ref<Schemas['SeasonRead']>()
const problem = ref('')

const look = latest(
  async (typed: string, of: 'dmy' | 'mdy' | undefined) => {
    try {
      problem.value = ''
      return await ask(api.POST('/api/season/read', { body: { text: typed, order: of } }))
    } catch (error) {
      problem.value =
        error instanceof Refused
          ? (error.problem.errors?.[0]?.message ?? error.problem.detail ?? '')
          : says('cant-reach')
      return undefined
    }
  },
  (read) => (came.value = read),
)
watchDebounced(
  [text, order],
  () => (text.value.trim() ? void look(text.value, order.value) : (came.value = undefined)),
  {
    debounce: 300,
  },
)
async function file(event: Event) {
  const one = (event.target as HTMLInputElement).files?.[0]
  if (one) text.value = await one.text()
}
const { handIn: keep } = useHandIn(async (_, done) => {
  const all = (came.value?.meetings ?? []).map((body) => ({ kind: 'meeting', body }) as Typed<'meeting'>)
  const refused = (await tellAll(all)).filter((o) => o.is === 'refused')
  for (const o of refused) await drop(o.entry.id)
  if (refused.length) {
    problem.value = refused[0]!.answer?.why ?? ''
    return
  }
  text.value = ''
  done()
  emit('close')
})
</script>

<template>
  <PanelDialog :open="open" class="max-w-2xl" data-paste-dialog @close="emit('close')">
    <DialogTitle class="text-xl font-semibold">{{ says('paste-events') }}</DialogTitle>
    <p class="mt-1 text-soft">{{ says('one-a-line') }}</p>
    <form class="mt-3" novalidate @submit.prevent="keep">
      <LabelledField :label="says('events')">
        <textarea
          v-model="text"
          class="field figures min-h-36 text-[0.95rem]"
          data-text
          :placeholder="says('example')"
        />
      </LabelledField>
      <LabelledField class="mt-2" :label="says('or-calendar-file')">
        <input type="file" accept=".ics,text/calendar,.txt,.csv" class="mt-1" @change="file" />
      </LabelledField>
      <p v-if="problem" role="alert" class="mt-2 font-semibold">{{ problem }}</p>
      <div v-if="came?.asked" class="mt-3" data-asked>
        <p>{{ says('which-way', { date: came.asked }) }}</p>
        <div class="mt-1 flex gap-2">
          <button type="button" class="choice" @click="order = 'dmy'">{{ says('day-first') }}</button>
          <button type="button" class="choice" @click="order = 'mdy'">{{ says('month-first') }}</button>
        </div>
      </div>
      <ol v-if="came?.meetings.length" class="mt-3 max-h-60 overflow-auto" data-came>
        <li v-for="m in came.meetings" :key="m.id" class="flex flex-wrap gap-x-4 border-b border-track py-1">
          <b>{{ m.name }}</b>
          <span
            >{{ longDate(m.date) }}<template v-if="m.until"> – {{ longDate(m.until) }}</template></span
          >
          <span class="figures text-soft">{{
            [m.hours && `${m.hours} h`, m.km && `${Math.round(m.km)} km`, m.runs && says('n-runs', { runs: m.runs })]
              .filter(Boolean)
              .join(', ')
          }}</span>
        </li>
      </ol>
      <ul v-if="came?.refused.length" class="mt-3" role="alert" data-refused>
        <li v-for="r in came.refused" :key="r.line" class="border-l-4 border-watch pl-3">
          {{ says('line', { line: r.line, text: r.text, why: r.why }) }}
        </li>
      </ul>
      <div class="mt-4 flex gap-3">
        <button type="button" class="button-plain grow" @click="emit('close')">{{ says('cancel') }}</button>
        <button class="button-main grow" :disabled="!came?.meetings.length" data-save>
          {{ says('add-n', { n: came?.meetings.length ?? 0 }) }}
        </button>
      </div>
    </form>
  </PanelDialog>
</template>
