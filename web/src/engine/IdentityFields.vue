<script setup lang="ts">
import { faultOf, type Problem } from '@/api/client'
import { longest } from '@/api/constants.gen'
import LabelledField from '@/components/LabelledField.vue'
import type { IdentityForm, Number } from './useIdentity'
import { sayer } from '@/words/say'
import texts from '@/words/en/engine-form.json'

const says = sayer(texts)

/** The numbers on an engine, who built it, how its owner is reached, who had it before, and what it was built to. */
defineProps<{ problem?: Problem }>()
const form = defineModel<IdentityForm>({ required: true })
const numbers: [Number, string][] = [
  ['serial', says('serial-number')],
  ['block', says('block-number')],
  ['head', says('head-number')],
  ['casting', says('casting-number')],
  ['chassis', says('chassis-or-boat')],
  ['seal', says('class-or-seal-number')],
]
</script>

<template>
  <details class="border-t border-rule pt-2" data-identity>
    <summary class="flex min-h-11 cursor-pointer items-center font-semibold">{{ says('identity') }}</summary>
    <div class="grid grid-cols-2 gap-3 sm:grid-cols-3">
      <LabelledField
        v-for="[key, label] in numbers"
        :key="key"
        :label="label"
        :fault="faultOf(problem, `identity.${key}`)"
      >
        <input v-model="form[key]" class="field figures" :maxlength="longest.Identity[key]" autocomplete="off" />
      </LabelledField>
      <LabelledField :label="says('builder')" :fault="faultOf(problem, 'identity.builder')">
        <input v-model="form.builder" class="field" :maxlength="longest.Identity.builder" autocomplete="off" />
      </LabelledField>
      <LabelledField :label="says('owners-phone')" :fault="faultOf(problem, 'identity.phone')">
        <input
          v-model="form.phone"
          type="tel"
          class="field figures"
          :maxlength="longest.Identity.phone"
          autocomplete="off"
        />
      </LabelledField>
      <LabelledField :label="says('owners-email')" :fault="faultOf(problem, 'identity.email')">
        <input
          v-model="form.email"
          inputmode="email"
          class="field"
          :maxlength="longest.Identity.email"
          autocomplete="off"
        />
      </LabelledField>
    </div>
    <fieldset class="mt-4">
      <legend class="font-semibold">{{ says('spec-sheet') }}</legend>
      <p class="text-[0.95rem] text-soft">{{ says('as-builder-writes-it') }}</p>
      <div
        v-for="(row, i) in form.spec"
        :key="i"
        class="mt-2 grid grid-cols-[minmax(0,3fr)_minmax(0,2fr)_5rem_auto] gap-2"
      >
        <input
          v-model="row.what"
          class="field"
          :aria-label="says('spec-what', { n: i + 1 })"
          :placeholder="says('ring-gap-top')"
        />
        <input v-model="row.value" class="field figures" :aria-label="says('spec-value', { n: i + 1 })" />
        <input v-model="row.unit" class="field" :aria-label="says('spec-unit', { n: i + 1 })" />
        <button type="button" class="link min-h-11 px-2" @click="form.spec.splice(i, 1)">
          {{ says('remove') }}<span class="sr-only"> {{ row.what }}</span>
        </button>
      </div>
      <button type="button" class="link min-h-11" @click="form.spec.push({ what: '', value: '', unit: '' })">
        {{ says('add-row') }}
      </button>
    </fieldset>
    <fieldset class="mt-2">
      <legend class="font-semibold">{{ says('owners-before') }}</legend>
      <div v-for="(o, i) in form.owners" :key="i" class="mt-2 grid grid-cols-[minmax(0,3fr)_minmax(0,2fr)_auto] gap-2">
        <input v-model="o.name" class="field" :aria-label="says('owner-name', { n: i + 1 })" />
        <input
          v-model="o.until"
          class="field"
          :aria-label="says('owner-until', { n: i + 1 })"
          :placeholder="says('until')"
        />
        <button type="button" class="link min-h-11 px-2" @click="form.owners.splice(i, 1)">
          {{ says('remove') }}<span class="sr-only"> {{ o.name }}</span>
        </button>
      </div>
      <button type="button" class="link min-h-11" @click="form.owners.push({ name: '', until: '' })">
        {{ says('add-owner') }}
      </button>
    </fieldset>
  </details>
</template>
