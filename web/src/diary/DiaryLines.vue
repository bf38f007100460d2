<script setup lang="ts">
import type { Schemas } from '@/api/client'
import PutOff from './PutOff.vue'
import { whenOf } from './words'

/** What is due on one engine, under its sentence. */
defineProps<{ items: Schemas['DiaryItem'][]; today: string }>()
</script>

<template>
  <ul v-if="items.length">
    <li v-for="i in items" :key="i.id" class="flex flex-wrap items-baseline gap-x-3" data-due>
      <span>
        <b class="font-semibold"
          ><span class="inline-block first-letter:uppercase">{{ i.what }}</span
          >, {{ whenOf(i) }}</b
        ><span v-if="i.kind !== 'mend'" class="text-soft">: {{ i.why.replace(/[.]$/, '') }}.</span>
      </span>
      <span v-if="i.standing === 'put off'" class="text-soft">{{ i.put_off_why }}</span>
      <PutOff :item="i" :today="today" />
    </li>
  </ul>
</template>
