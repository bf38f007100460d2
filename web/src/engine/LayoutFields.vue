<script setup lang="ts">
import { faultOf, type Problem, type Schemas } from '@/api/client'
import FigureField from '@/components/FigureField.vue'
import LabelledField from '@/components/LabelledField.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/engine-form.json'
import { groups, type LayoutForm } from './useLayout'

/** How the cylinders or rotors stand, are numbered and fire. */
const props = defineProps<{ form: LayoutForm; problem?: Problem }>()
const emit = defineEmits<{ group: [] }>()
const says = sayer(texts)
const { group, preset, banks, order, intervals, angle, master, rotors, factors, rotary, called, turns } = props.form
const { inGroup, sizes, numberings, choose, fire } = props.form
const words = (f: Schemas['Firing']) =>
  f.order.join('-') + (f.intervals_deg ? `, ${f.intervals_deg.join('° / ')}°` : says('even'))
</script>

<template>
  <div class="grid content-start gap-4">
    <fieldset>
      <legend class="font-semibold">{{ rotary ? says('rotors') : says('cylinders') }}</legend>
      <div class="mt-1 flex flex-wrap gap-2">
        <label
          v-for="g in groups"
          :key="g"
          class="flex min-h-11 cursor-pointer items-center border border-rule bg-sheet px-4 has-checked:border-ink has-checked:bg-ink has-checked:text-paper has-focus-visible:outline-3 has-focus-visible:outline-verdigris"
        >
          <input v-model="group" class="sr-only" type="radio" name="group" :value="g" @change="emit('group')" />{{ g }}
        </label>
      </div>
      <div v-if="rotary" class="mt-2 flex flex-wrap gap-2">
        <button v-for="n in 4" :key="n" type="button" class="choice" :aria-pressed="rotors === n" @click="rotors = n">
          {{ n }} {{ n === 1 ? says('rotor') : says('rotors-2') }}
        </button>
      </div>
      <div v-else-if="inGroup.length > 1" class="mt-2 flex flex-wrap gap-2">
        <button
          v-for="[name, [first]] in sizes"
          :key="name"
          type="button"
          class="choice"
          :aria-pressed="numberings.includes(first!)"
          @click="choose(first!)"
        >
          {{ name }}
        </button>
      </div>
      <div v-if="!rotary && numberings.length > 1" class="mt-2 flex flex-wrap gap-2">
        <button
          v-for="p in numberings"
          :key="p.name"
          type="button"
          class="choice"
          :aria-pressed="p === preset"
          @click="choose(p)"
        >
          {{ p.name.split(', ')[1] }}
        </button>
      </div>
    </fieldset>

    <div v-if="!rotary" class="grid gap-3 sm:grid-cols-2">
      <LabelledField
        v-for="(_, i) in banks"
        :key="i"
        :label="banks.length > 1 ? says('bank-from-front', { bank: i + 1 }) : says('cylinders-from-front')"
        :fault="faultOf(problem, `layout.banks.${i}`)"
      >
        <input v-model="banks[i]" class="field figures" inputmode="numeric" />
      </LabelledField>
    </div>
    <LabelledField :label="says('your-own-names-for-cylinders')" :fault="faultOf(problem, 'layout.names')">
      <input v-model="called" class="field" :placeholder="says('1-front-left-2-front')" autocomplete="off" />
    </LabelledField>
    <LabelledField v-if="rotary" :label="says('makers-factors-250-rpm-speed')" :fault="faultOf(problem, 'speed_table')">
      <input v-model="factors" class="field figures" placeholder="200 1.12, 250 1, 300 0.93" autocomplete="off" />
    </LabelledField>
    <p v-if="rotary && !factors.trim()" class="text-soft">
      {{ says('without-them-braxel-estimates-what') }}
    </p>
    <LabelledField v-if="!rotary" :label="says('firing-order')" :fault="faultOf(problem, 'firing_order')">
      <input v-model="order" class="field figures" inputmode="numeric" />
    </LabelledField>
    <div v-if="!rotary" class="grid gap-3 sm:grid-cols-2">
      <LabelledField :label="says('turn-between-firings')" :fault="faultOf(problem, 'firing_intervals_deg')">
        <input v-model="turns" class="field figures" inputmode="numeric" :placeholder="says('even-2')" />
      </LabelledField>
      <FigureField
        v-if="group === 'radial'"
        v-model="master"
        :label="says('master-rod-cylinder')"
        :fault="faultOf(problem, 'layout.master_rod')"
      />
      <FigureField
        v-if="banks.length > 1"
        v-model="angle"
        :label="says('angle-between-banks')"
        :fault="faultOf(problem, 'layout.bank_angle_deg')"
      />
    </div>
    <div
      v-if="!rotary && preset && preset.firings.length > 1"
      class="flex flex-wrap gap-2"
      :aria-label="says('common-firing-orders')"
    >
      <button
        v-for="f in preset.firings"
        :key="words(f)"
        type="button"
        class="choice figures text-[0.85rem]"
        :aria-pressed="order === f.order.join(' ') && intervals === f.intervals_deg"
        @click="fire(f)"
      >
        {{ words(f) }}
      </button>
    </div>
  </div>
</template>
