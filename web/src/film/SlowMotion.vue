<script setup lang="ts">
import { sayer } from '@/words/say'
import texts from '@/words/en/film.json'

const says = sayer(texts)

/** How many times slower a film shows what was filmed, which files don't tell; 0 is found from the speed of cranking. */
const slower = defineModel<number>({ required: true })
</script>

<template>
  <label class="flex min-h-11 flex-wrap items-center gap-x-2 text-soft"
    >{{ says('slow-motion') }}
    <select v-model.number="slower" class="field w-auto max-w-full" data-film-slower>
      <option :value="0">{{ says('slow-found') }}</option>
      <option :value="1">{{ says('as-filmed') }}</option>
      <option v-for="n in [2, 4, 8]" :key="n" :value="n">{{ says('times-slower', { n }) }}</option>
    </select></label
  >
</template>
