<script setup lang="ts">
import type { Schemas } from '@/api/client'
import LabelledField from '@/components/LabelledField.vue'
import type { Picks } from './form'
import { sayer } from '@/words/say'
import texts from '@/words/en/import.json'

const says = sayer(texts)

/** The engines of a file, each with the one here that it was taken for: shown, and changeable. */
defineProps<{ matched: Schemas['Matched'][]; engines: { id: string; name: string }[] }>()
const picks = defineModel<Picks>({ required: true })

function choose(name: string, event: Event) {
  const id = (event.target as HTMLSelectElement).value
  picks.value = { ...picks.value, engines: { ...picks.value.engines, [name]: id } }
}
</script>

<template>
  <div class="flex flex-wrap gap-x-8 gap-y-3">
    <LabelledField v-for="m in matched" :key="m.name" :label="says('engine-in-file', { name: m.name })">
      <select class="field min-w-60" :value="m.id ?? 'new'" data-into @change="choose(m.name, $event)">
        <option value="new">{{ says('new-engine-here') }}</option>
        <option v-for="e in engines" :key="e.id" :value="e.id">{{ says('already-here', { name: e.name }) }}</option>
      </select>
    </LabelledField>
  </div>
</template>
