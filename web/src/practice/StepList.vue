<script setup lang="ts">
import type { Schemas } from '@/api/client'
import StateMark from '@/components/StateMark.vue'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/practice.json'

const says = sayer(texts)

/** Steps with what each told: a bar as long as Braxel was sure of the truth after it. */
defineProps<{ title: string; steps: Schemas['PracticeStep'][]; empty: string }>()
const points = (p: number) => `${p >= 0.5 ? '+' : p <= -0.5 ? '−' : '±'}${rounded(Math.abs(p), 0)}`
</script>

<template>
  <section :aria-label="title">
    <h2 class="border-b border-ink pb-1 text-xl font-semibold">{{ title }}</h2>
    <p v-if="!steps.length" class="mt-2 text-soft">{{ empty }}</p>
    <ol>
      <li v-for="(s, i) in steps" :key="i" class="border-b border-rule py-2" data-step>
        <div class="flex items-baseline gap-3">
          <span class="figures w-12 shrink-0 text-right text-soft">{{ rounded(s.minutes, 0) }}′</span>
          <b class="min-w-0 flex-1">{{ s.did }}</b>
          <span v-if="s.judged" class="figures shrink-0" :title="says('how-much-surer-truth-points')">{{
            points(s.tells_pct)
          }}</span>
        </div>
        <template v-if="s.judged">
          <p class="ml-15 text-soft"><StateMark v-if="s.state" :state="s.state" class="mr-1" />{{ s.says }}</p>
          <div class="mt-1 ml-15 flex items-center gap-2">
            <svg viewBox="0 0 100 4" preserveAspectRatio="none" class="h-1.5 flex-1" aria-hidden="true">
              <rect width="100" height="4" class="fill-track" />
              <rect :width="s.sure_pct" height="4" class="fill-verdigris" />
            </svg>
            <span class="figures w-24 text-right text-soft">{{ says('sure', { sure: rounded(s.sure_pct, 0) }) }}</span>
          </div>
        </template>
      </li>
    </ol>
  </section>
</template>
