<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

/** What oil did in each cylinder that had some. */
defineProps<{ cells: Schemas['Sheet']['wet'] }>()
</script>

<template>
  <ul class="mt-4 grid gap-1">
    <li v-for="c in cells.filter((w) => w.says)" :key="c.cylinder">
      <b class="figures">{{ c.cylinder }}</b> {{ says('rose') }} <b class="figures">{{ rounded(c.gain_pct!, 0) }} %</b
      ><template v-if="c.oil_pct !== undefined">{{ says('oil-alone-up', { gain: rounded(c.oil_pct, 0) }) }}</template
      ><template v-if="c.siblings_pct !== undefined">{{
        says('others', { gain: rounded(c.siblings_pct, 0) })
      }}</template
      >: {{ c.says }}.
    </li>
  </ul>
</template>
