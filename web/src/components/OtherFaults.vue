<script setup lang="ts">
import type { Schemas } from '@/api/client'
import StateMark from './StateMark.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** The faults beside the worst, which stands above with its causes: each with its own state, sentence and next step. */
defineProps<{ faults: Schemas['JudgedFault'][] }>()
</script>

<template>
  <section v-if="faults.length > 1" :aria-label="says('also')" class="mt-5" data-besides>
    <h2 class="border-b border-rule pb-1 text-[0.95rem] font-semibold">{{ says('also') }}</h2>
    <ul>
      <li v-for="f in faults.slice(1)" :key="f.cylinders.join()" class="border-b border-track py-2">
        <StateMark :state="f.state" /> {{ f.sentence }}
        <span v-if="f.next" class="block text-soft">{{
          says('next-2', { words: f.next.words, why: f.next.why })
        }}</span>
      </li>
    </ul>
  </section>
</template>
