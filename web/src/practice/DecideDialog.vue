<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Refused, type Schemas } from '@/api/client'
import LabelledField from '@/components/LabelledField.vue'
import PanelDialog from '@/components/PanelDialog.vue'

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
  if (!kind.value) fault.value = 'Say what is wrong with it, or that nothing is.'
  else if (run.value === undefined) fault.value = 'Say whether it is run.'
  if (fault.value) return
  try {
    const body = { kind: kind.value, cylinders: cylinders.value, run: run.value! }
    await ask(api.POST('/api/practice/{engine}/decide', { params: { path: { engine: props.at.engine } }, body }))
    void client.invalidateQueries({ queryKey: ['practice'] })
    emit('close')
    await router.push(`/engines/${props.at.engine}/debrief`)
  } catch (e) {
    fault.value = e instanceof Refused ? e.message : 'The server is away: decide again when it is back.'
  }
}
</script>

<template>
  <PanelDialog :open="open" @close="emit('close')">
    <form @submit.prevent="decide">
      <DialogTitle class="text-2xl font-semibold">Decide</DialogTitle>
      <LabelledField label="What is wrong with it?" class="mt-3">
        <select v-model="kind" class="field w-full text-lg" data-kind>
          <option value="" disabled>choose</option>
          <option v-for="c in at.choices" :key="c.kind" :value="c.kind">{{ c.words }}</option>
        </select>
      </LabelledField>
      <div v-if="many" class="mt-3 flex gap-3">
        <LabelledField v-for="i in many" :key="i" :label="i === 1 ? 'cylinder' : 'and'">
          <select v-model.number="cylinders[i - 1]" class="field w-auto text-lg" :data-where="i">
            <option v-for="c in at.cylinders" :key="c" :value="c">{{ c }}</option>
          </select>
        </LabelledField>
      </div>
      <fieldset class="mt-4 flex flex-wrap gap-x-6">
        <legend class="font-semibold">Is it run?</legend>
        <label class="flex min-h-11 items-center gap-2"
          ><input v-model="run" type="radio" name="run" :value="true" data-run /> run it</label
        >
        <label class="flex min-h-11 items-center gap-2"
          ><input v-model="run" type="radio" name="run" :value="false" data-not /> do not run it</label
        >
      </fieldset>
      <p v-if="fault" class="mt-2 border-l-4 border-watch pl-3" role="alert">{{ fault }}</p>
      <div class="mt-4 flex gap-3">
        <button class="button-main min-h-12 px-6" data-decided>That is it</button>
        <button type="button" class="button-plain min-h-12" @click="emit('close')">Test on</button>
      </div>
    </form>
  </PanelDialog>
</template>
