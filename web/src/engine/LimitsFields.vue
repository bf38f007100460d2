<script setup lang="ts">
import { faultOf, type Problem } from '@/api/client'
import FigureField from '@/components/FigureField.vue'
import LabelledField from '@/components/LabelledField.vue'
import { pressureUnits } from '@/composables/figure'
import { sayer } from '@/words/say'
import texts from '@/words/en/engine-form.json'
import type { LimitsForm } from './useLimits'

/** The builder's or the maker's own limits, and beside them whatever else decides how it is judged. */
const props = defineProps<{ form: LimitsForm; problem?: Problem }>()
const says = sayer(texts)
const limits = props.form.form
</script>

<template>
  <fieldset>
    <legend class="font-semibold">{{ says('builders-or-makers-limits-these') }}</legend>
    <div class="mt-1 grid grid-cols-2 gap-3 sm:grid-cols-3">
      <LabelledField :label="says('compression-spec')" :fault="faultOf(problem, 'limits.compression_nominal')">
        <input v-model="limits.nominal" class="field figures" inputmode="decimal" />
      </LabelledField>
      <FigureField
        v-model="limits.minimum"
        :label="says('compression-minimum')"
        :fault="faultOf(problem, 'limits.compression_minimum')"
      />
      <LabelledField label="in">
        <select v-model="limits.unit" class="field">
          <option v-for="u in pressureUnits" :key="u">{{ u }}</option>
        </select>
      </LabelledField>
      <LabelledField :label="says('from')" :fault="faultOf(problem, 'limits.source')">
        <input v-model="limits.source" class="field" :placeholder="says('builder')" />
      </LabelledField>
      <FigureField
        v-model="limits.spread"
        :label="says('spread-maximum')"
        :fault="faultOf(problem, 'limits.spread_maximum_pct')"
      />
      <FigureField
        v-model="limits.leak"
        :label="says('leak-maximum')"
        :fault="faultOf(problem, 'limits.leak_maximum_pct')"
      />
      <FigureField
        v-model="limits.freshen"
        :label="says('freshen-after')"
        :fault="faultOf(problem, 'limits.freshen_after')"
      />
      <slot />
    </div>
  </fieldset>
</template>
