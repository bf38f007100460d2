<script setup lang="ts">
import { longest } from '@/api/constants.gen'
import { DialogTitle } from '@headlessui/vue'
import { reactive, ref } from 'vue'
import { faultOf, type Problem, type Schemas } from '@/api/client'
import LabelledField from '@/components/LabelledField.vue'
import PanelDialog from '@/components/PanelDialog.vue'
import { useHandIn } from '@/composables/useHandIn'
import { problemOf } from '@/composables/useSheet'
import { drop, tell } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/diary.json'

const says = sayer(texts)

/** Puts something due off, until a day and for a reason; takes that back. */
const props = defineProps<{ item: Schemas['DiaryItem']; today: string }>()
const asking = ref(false)
const problem = ref<Problem>()
const form = reactive({ until: '', why: '' })

function ask() {
  const in30 = new Date(`${props.today}T00:00:00Z`)
  in30.setUTCDate(in30.getUTCDate() + 30)
  form.until ||= in30.toISOString().slice(0, 10)
  asking.value = true
}
const { handIn: keep } = useHandIn(async (id, done) => {
  const { until } = form
  const outcome = await tell({
    id,
    kind: 'put-off',
    engine: props.item.engine,
    body: { item: props.item.id, until, why: form.why.trim() },
  })
  if (outcome.is === 'refused') {
    await drop(outcome.entry.id)
    problem.value = problemOf(outcome)
    return
  }
  problem.value = undefined
  asking.value = false
  form.why = ''
  done()
})
const back = () =>
  tell({
    kind: 'strike',
    engine: props.item.engine,
    body: { entry: props.item.put_off_key!, why: says('undo-postponing') },
  })
</script>

<template>
  <button v-if="item.standing === 'put off'" class="link -my-2 min-h-11" @click="back">
    {{ says('undo-postponing') }}<span class="sr-only">: {{ item.name }}</span>
  </button>
  <button v-else class="link -my-2 min-h-11" @click="ask">
    {{ says('postpone') }}<span class="sr-only">: {{ item.name }}, {{ item.what }}</span>
  </button>
  <PanelDialog :open="asking" @close="asking = false">
    <form class="grid gap-3" novalidate @submit.prevent="keep">
      <DialogTitle class="text-xl font-semibold">{{ item.name }}: {{ item.what }}</DialogTitle>
      <LabelledField :label="says('postpone-until')" :fault="faultOf(problem, 'until')">
        <input v-model="form.until" type="date" class="field figures" />
      </LabelledField>
      <LabelledField :label="says('why')" :fault="faultOf(problem, 'why')">
        <input v-model="form.why" class="field" :maxlength="longest.PutOff.why" autocomplete="off" />
      </LabelledField>
      <button class="button-main">{{ says('postpone-2') }}</button>
    </form>
  </PanelDialog>
</template>
