<script setup lang="ts">
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

import type { Schemas } from '@/api/client'

defineProps<{ judgement: Schemas['Judgement'] }>()
</script>

<template>
  <div
    class="grid grid-cols-[1fr_auto_3.2rem] items-baseline gap-x-4 border-b border-track py-0.5"
    :class="judgement.own ? '' : 'text-[0.92rem]'"
  >
    <dt>{{ judgement.words }}</dt>
    <dd class="figures text-[0.85rem] text-soft">{{ judgement.says }}</dd>
    <dd class="text-right" :class="judgement.passes ? 'text-soft' : 'font-semibold'">
      {{ judgement.passes ? says('holds') : says('fails') }}
    </dd>
  </div>
</template>
