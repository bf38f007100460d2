<script setup lang="ts">
import type { Schemas } from '@/api/client'
import LabelledField from '@/components/LabelledField.vue'
import { merged, type Picks } from './form'
import { sayer } from '@/words/say'
import texts from '@/words/en/import.json'

const says = sayer(texts)

/** What a sheet does not say: asked once for the whole file, each answer with what is read by it. */
defineProps<{ asked: Schemas['Asked'][] }>()
const picks = defineModel<Picks>({ required: true })
const value = (event: Event) => (event.target as HTMLInputElement).value

function answer(reply: Schemas['Reply']) {
  picks.value = merged(picks.value, reply.picks)
}
/** Whether an answer is the one that was given, or is taken where nobody says otherwise. */
function stands(asked: Schemas['Asked'], reply: Schemas['Reply']) {
  return JSON.stringify(merged(picks.value, reply.picks)) === JSON.stringify(picks.value) || asked.took === reply.name
}
</script>

<template>
  <div class="flex flex-wrap gap-x-10 gap-y-5" data-asks>
    <template v-for="a in asked" :key="a.what + a.sheet + a.text">
      <LabelledField v-if="a.what === 'date'" :label="says('sheet-has-no-date-when')">
        <input
          class="field figures"
          type="date"
          :value="picks.date"
          @change="picks = { ...picks, date: value($event) || undefined }"
        />
      </LabelledField>
      <LabelledField v-else-if="a.what === 'engine'" :label="says('what-called')">
        <input
          class="field min-w-60"
          maxlength="120"
          :value="picks.engine"
          :placeholder="a.took"
          data-called
          @change="picks = { ...picks, engine: value($event) || undefined }"
        />
      </LabelledField>
      <fieldset v-else class="max-w-2xl" :class="{ 'border-l-4 border-watch pl-4': a.must }" :data-question="a.what">
        <legend class="float-left w-full" :class="{ 'text-lg font-semibold': a.must }">
          <template v-if="a.sheet && a.what !== 'dates'">{{ a.sheet }}: </template>{{ a.words }}
        </legend>
        <p v-if="a.text && !a.words.includes(a.text)" class="figures clear-both break-words text-soft">{{ a.text }}</p>
        <div class="clear-both flex flex-wrap items-start gap-3 pt-2">
          <div v-for="c in a.choices" :key="c.name" class="max-w-64">
            <button class="choice" :aria-pressed="stands(a, c)" :data-choice="c.name" @click="answer(c)">
              {{ c.words }}
            </button>
            <ul v-if="c.reads?.length" class="figures mt-1 text-[0.95rem] text-soft">
              <li v-for="line in c.reads" :key="line">{{ line }}</li>
            </ul>
          </div>
          <LabelledField v-if="a.what === 'supply'" :label="says('another')">
            <input
              class="field figures w-28"
              maxlength="20"
              :value="picks.supply"
              :placeholder="says('supply-such-as')"
              @change="picks = { ...picks, supply: value($event) || undefined }"
            />
          </LabelledField>
        </div>
      </fieldset>
    </template>
  </div>
</template>
