<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { longDate } from '@/composables/useFormat'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

defineProps<{ due: Schemas['Due']; unit?: string; short?: boolean }>()
</script>

<template>
  <span data-due
    ><span :class="{ 'font-semibold': !short }"
      >{{ short ? says('due') : says('next-test') }}
      <template v-if="due.by_meter !== undefined"
        ><span class="figures">{{ rounded(due.by_meter, 0) }}</span> {{ unit }}</template
      ><template v-if="due.by_meter !== undefined && due.by_date"> {{ says('or') }} </template
      ><template v-if="due.by_date">{{ longDate(due.by_date) }}</template></span
    ><template v-if="!short">: {{ due.why }}.</template></span
  >
</template>
