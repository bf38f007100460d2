<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Refused, type Schemas } from '@/api/client'
import LabelledField from '@/components/LabelledField.vue'
import PanelDialog from '@/components/PanelDialog.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/practice.json'

const says = sayer(texts)

/** What is wrong with it, where, and whether it is run. */
const props = defineProps<{ open: boolean; at: Schemas['PracticeCase'] }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const client = useQueryClient()
const kind = ref('')
const cylinders = ref<number[]>([])
const run = ref<boolean>()
const fault = ref('')
const choice = computed(() => props.at.choices.find((c) => c.kind === kind.value))
const many = computed(() => choice.value?.of ?? 0)
watch(many, (n) => (cylinders.value = Array.from({ length: n }, (_, i) => props.at.cylinders[i]!)))

async function decide() {
  fault.value = ''
  if (!kind.value) fault.value = says('say-what-fault-or-there')
  else if (run.value === undefined) fault.value = says('say-whether-run')
  if (fault.value) return
  try {
    const body = { kind: kind.value, cylinders: cylinders.value, run: run.value! }
    await ask(api.POST('/api/practice/{engine}/decide', { params: { path: { engine: props.at.engine } }, body }))
    void client.invalidateQueries({ queryKey: ['practice'] })
    emit('close')
    await router.push(`/engines/${props.at.engine}/debrief`)
  } catch (e) {
    fault.value = e instanceof Refused ? e.message : says('cant-reach-braxel-decide-when')
  }
}
</script>

<template>
  <PanelDialog :open="open" @close="emit('close')">
    <form @submit.prevent="decide">
      <DialogTitle class="text-2xl font-semibold">{{ says('decide') }}</DialogTitle>
      <LabelledField :label="says('what-fault')" class="mt-3">
        <select v-model="kind" class="field w-full text-lg" data-kind>
          <option value="" disabled>{{ says('choose') }}</option>
          <option v-for="c in at.choices" :key="c.kind" :value="c.kind">{{ c.words }}</option>
        </select>
      </LabelledField>
      <div v-if="many" class="mt-3 flex gap-3">
        <LabelledField v-for="i in many" :key="i" :label="i === 1 ? says('cylinder') : says('and')">
          <select v-model.number="cylinders[i - 1]" class="field w-auto text-lg" :data-where="i">
            <option v-for="c in at.cylinders" :key="c" :value="c">{{ c }}</option>
          </select>
        </LabelledField>
      </div>
      <fieldset class="mt-4 flex flex-wrap gap-x-6">
        <legend class="font-semibold">{{ says('run') }}</legend>
        <label class="flex min-h-11 items-center gap-2"
          ><input v-model="run" type="radio" name="run" :value="true" data-run /> {{ says('run-2') }}</label
        >
        <label class="flex min-h-11 items-center gap-2"
          ><input v-model="run" type="radio" name="run" :value="false" data-not /> {{ says('dont-run') }}</label
        >
      </fieldset>
      <p v-if="fault" class="mt-2 border-l-4 border-watch pl-3" role="alert">{{ fault }}</p>
      <div class="mt-4 flex gap-3">
        <button class="button-main min-h-12 px-6" data-decided>{{ says('thats-my-answer') }}</button>
        <button type="button" class="button-plain min-h-12" @click="emit('close')">{{ says('test-2') }}</button>
      </div>
    </form>
  </PanelDialog>
</template>
