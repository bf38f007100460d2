<script setup lang="ts">
import type { Schemas } from '@/api/client'

defineProps<{ judgements: Schemas['Judgement'][]; beside?: string }>()
</script>

<template>
  <section>
    <h2 class="border-b border-rule pb-1 text-[0.95rem] font-semibold">By each school</h2>
    <p v-if="beside" class="mt-2 border-l-4 border-verdigris pl-3" data-beside>{{ beside }}</p>
    <dl>
      <div
        v-for="j in judgements"
        :key="j.school"
        class="grid grid-cols-[1fr_auto_3.2rem] items-baseline gap-x-4 border-b border-track py-0.5 text-[0.92rem]"
      >
        <dt>{{ j.words }}</dt>
        <dd class="figures text-[0.85rem] text-soft">{{ j.says }}</dd>
        <dd class="text-right" :class="j.passes ? 'text-soft' : 'font-semibold'">{{ j.passes ? 'holds' : 'fails' }}</dd>
      </div>
    </dl>
  </section>
</template>
