<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Schemas } from '@/api/client'
import StateMark from '@/components/StateMark.vue'
import SaidAround from '@/components/SaidAround.vue'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/compare.json'

const says = sayer(texts)

/** Engines as candidates, the best by what is known first, each with what it lacks to be judged. */
defineProps<{ rank: Schemas['CompareCandidate'][] }>()
</script>

<template>
  <ol data-rank>
    <li
      v-for="c in rank"
      :key="c.engine"
      class="grid gap-x-6 gap-y-1 border-b border-track py-3 md:grid-cols-[3rem_12rem_minmax(0,1fr)_minmax(0,1fr)]"
    >
      <span class="figures text-3xl text-soft">{{ c.place || '–' }}</span>
      <p>
        <RouterLink :to="`/engines/${c.engine}`" class="block text-xl font-semibold hover:underline">{{
          c.name
        }}</RouterLink>
        <StateMark v-if="c.place" :state="c.state" />
      </p>
      <p>
        {{ c.sentence }}
        <span v-if="c.inspected" class="block" data-inspected>{{ says('inspected', { inspected: c.inspected }) }}</span>
        <span class="block text-soft">
          <template v-if="c.spread_pct !== undefined"
            ><SaidAround :parts="says.around('lowest-below', 'spread')"
              ><span class="figures">{{ rounded(c.spread_pct, 1) }} %</span></SaidAround
            ></template
          ><template v-if="c.leak_pct !== undefined">
            {{ says('worst-leak') }} <span class="figures">{{ rounded(c.leak_pct, 0) }} %</span></template
          >
        </span>
      </p>
      <div v-if="c.lacks.length">
        <p class="text-soft">{{ says('still-missing') }}</p>
        <ul class="list-disc pl-5">
          <li v-for="l in c.lacks" :key="l">{{ l }}</li>
        </ul>
      </div>
      <p v-else class="text-soft">{{ says('nothing-missing') }}</p>
    </li>
  </ol>
</template>
