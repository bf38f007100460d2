<script setup lang="ts">
import { pressureUnits, type PressureUnit } from '@/composables/figure'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

/** The unit of the figures that are typed. It is no stop of the tabulator: u changes it. */
const unit = defineModel<PressureUnit>({ required: true })
</script>

<template>
  <select v-model="unit" class="field w-auto" :aria-label="says('unit')" tabindex="-1">
    <option v-for="u in pressureUnits" :key="u">{{ u }}</option>
  </select>
</template>
