<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import SchoolRow from './SchoolRow.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** What each school says: the one that this engine is tested by, and its own limits, stand out; the others fold away. */
const props = defineProps<{ judgements: Schemas['Judgement'][]; beside?: string }>()
const own = computed(() => props.judgements.filter((j) => j.own))
const others = computed(() => props.judgements.filter((j) => !j.own))
</script>

<template>
  <section>
    <h2 class="border-b border-rule pb-1 text-[0.95rem] font-semibold">
      {{ own.length ? says('rules-for-engine') : says('each-rule-thumb') }}
    </h2>
    <p v-if="beside" class="mt-2 border-l-4 border-verdigris pl-3" data-beside>{{ beside }}</p>
    <dl v-if="own.length" data-own>
      <SchoolRow v-for="j in own" :key="j.school" :judgement="j" />
    </dl>
    <details v-if="own.length && others.length">
      <summary class="flex min-h-11 items-center text-[0.95rem] text-soft">
        {{
          says('other-which', {
            n: others.length,
            failed: others.filter((j) => !j.passes).length || says('none'),
          })
        }}
      </summary>
      <dl>
        <SchoolRow v-for="j in others" :key="j.school" :judgement="j" />
      </dl>
    </details>
    <dl v-else-if="others.length">
      <SchoolRow v-for="j in others" :key="j.school" :judgement="j" />
    </dl>
  </section>
</template>
