<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import BorePlan from '@/components/BorePlan.vue'
import { boresOf } from './bores'

/** Beside the entry: the engine from above, the table of the step, and what is to be minded. */
const props = defineProps<{ sheet: Schemas['Sheet']; current: number; wide: number; caveats?: boolean }>()
defineEmits<{ pick: [number: number] }>()
const bores = computed(() => boresOf(props.sheet))
const across = computed(() => {
  const { banks, rotors } = props.sheet.engine.layout
  return rotors ?? Math.max(...(banks?.map((b) => b.length) ?? [1]))
})
</script>

<template>
  <section class="min-w-0">
    <BorePlan
      :layout="sheet.engine.layout"
      :bores="bores"
      :current="current"
      class="mb-4 max-lg:hidden"
      :style="{ maxWidth: `${across * wide}px` }"
      @pick="(n) => $emit('pick', n)"
    />
    <slot />
    <p v-for="w in sheet.warnings" :key="w" class="mt-3 border-l-4 border-watch pl-3" data-warning>{{ w }}</p>
    <template v-if="caveats">
      <p v-for="c in sheet.verdict.caveats" :key="c" class="mt-3 border-l-4 border-rule pl-3" data-caveat>{{ c }}</p>
    </template>
    <slot name="after" />
  </section>
</template>
