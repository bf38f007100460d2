<script setup lang="ts">
import { ref } from 'vue'
import { longest } from '@/api/constants.gen'
import { faultOf } from '@/api/client'
import LabelledField from '@/components/LabelledField.vue'
import { figureOf, noFigure } from '@/composables/figure'
import type { Work } from '@/composables/useSheet'
import { vShown } from '@/composables/vShown'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

/** What was agreed with the customer about a test or an inspection, and the hours that it took. */
const props = defineProps<{ work: Work }>()
const hoursFault = ref('')
function hours(text: string) {
  const value = figureOf(text)
  hoursFault.value = Number.isNaN(value) ? noFigure(text) : ''
  if (!hoursFault.value) void props.work.patch({ hours_spent: value ?? null })
}
</script>

<template>
  <div v-if="work.sheet.value" class="grid gap-3 sm:grid-cols-[minmax(0,1fr)_9rem]" data-agreed>
    <LabelledField :label="says('agreed-with-customer')" :fault="faultOf(work.headProblem.value, 'agreed')">
      <input
        v-shown="work.sheet.value.session.agreed"
        class="field"
        :maxlength="longest.Session.agreed"
        autocomplete="off"
        @change="work.patch({ agreed: ($event.target as HTMLInputElement).value.trim() || null })"
      />
    </LabelledField>
    <LabelledField :label="says('hours-spent')" :fault="hoursFault || faultOf(work.headProblem.value, 'hours_spent')">
      <input
        v-shown="work.sheet.value.session.hours_spent"
        class="field figures"
        inputmode="decimal"
        autocomplete="off"
        @change="hours(($event.target as HTMLInputElement).value)"
      />
    </LabelledField>
  </div>
</template>
