<script setup lang="ts">
import type { Schemas } from '@/api/client'
import LabelledField from '@/components/LabelledField.vue'
import type { Picks } from './form'
import { sayer } from '@/words/say'
import texts from '@/words/en/import.json'

const says = sayer(texts)

/** What a sheet does not say: asked once for the whole of it. */
defineProps<{ asked: Schemas['Asked'][]; engines: { id: string; name: string }[]; picks: Picks; into: string }>()
const emit = defineEmits<{ pick: [Partial<Picks>]; into: [string] }>()
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
const orders = { dmy: says('day-first'), mdy: says('month-first') } as Record<string, string>
</script>

<template>
  <div class="flex flex-wrap gap-x-8 gap-y-3" data-asks>
    <fieldset v-for="a in asked.filter((a) => a.what === 'dates' || a.what === 'unit')" :key="a.what" class="max-w-xl">
      <legend :class="{ 'font-semibold': a.must }">{{ a.words }}</legend>
      <div class="mt-1 flex flex-wrap gap-2">
        <button
          v-for="c in a.choices"
          :key="c"
          class="choice"
          :aria-pressed="(a.what === 'dates' ? picks.dates : (picks.unit ?? a.took)) === c"
          :data-choice="c"
          @click="emit('pick', a.what === 'dates' ? { dates: c as never } : { unit: c as never })"
        >
          {{ orders[c] ?? c }}
        </button>
      </div>
    </fieldset>
    <LabelledField v-if="asked.some((a) => a.what === 'date')" :label="says('sheet-has-no-date-when')">
      <input
        class="field figures"
        type="date"
        :value="picks.date"
        @change="emit('pick', { date: value($event) || undefined })"
      />
    </LabelledField>
    <LabelledField :label="says('which-engine')">
      <select class="field min-w-60" :value="into" data-into @change="emit('into', value($event))">
        <option value="">{{ says('new-one-named-as-sheet') }}</option>
        <option v-for="e in engines" :key="e.id" :value="e.id">{{ says('already-here', { name: e.name }) }}</option>
      </select>
    </LabelledField>
    <LabelledField v-if="!into && asked.some((a) => a.what === 'engine')" :label="says('what-called')">
      <input
        class="field min-w-60"
        maxlength="120"
        :value="picks.engine"
        :placeholder="asked.find((a) => a.what === 'engine')?.took"
        data-called
        @change="emit('pick', { engine: value($event) || undefined })"
      />
    </LabelledField>
  </div>
</template>
