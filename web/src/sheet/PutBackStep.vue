<script setup lang="ts">
import { computed, useTemplateRef } from 'vue'
import KeyCap from '@/components/KeyCap.vue'
import { useKeys } from '@/composables/useKeys'
import type { Work } from '@/composables/useSheet'
import TickList from './TickList.vue'

const props = defineProps<{ work: Work }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const sheet = computed(() => props.work.sheet.value!)
const list = useTemplateRef('list')
const left = computed(() => sheet.value.after.filter((t) => !sheet.value.session.ticks?.includes(t.id)).length)

useKeys([
  { keys: [' '], does: 'tick it' },
  { keys: ['a'], does: 'tick all that are left', run: () => list.value?.rest() },
  { keys: ['Enter'], does: 'finish the test', run: () => emit('done') },
  { keys: ['Escape'], does: 'leave the sheet; it is kept', run: () => emit('leave') },
])
</script>

<template>
  <section class="max-w-3xl py-5">
    <h2 class="text-2xl font-medium">Put everything back</h2>
    <p class="mb-2 text-soft">What you ticked before the test, last off first on.</p>
    <p v-if="sheet.after.length === 0" class="py-3">Nothing was ticked as taken off.</p>
    <TickList ref="list" :work="work" :tasks="sheet.after" />
    <p class="mt-4 border-l-4 border-watch pl-3">
      Crank an oiled cylinder clear before it is started. Fuel and spark last; look for leaks at first start.
    </p>
    <div class="mt-4 flex flex-wrap gap-3">
      <button class="button-main min-h-14 grow text-xl" @click="$emit('done')">
        {{ left ? `Finish, ${left} not ticked` : 'Finish the test' }} <KeyCap>Enter</KeyCap>
      </button>
      <button v-if="sheet.after.length" class="button-plain min-h-14" @click="list?.rest()">
        Tick the rest <KeyCap>a</KeyCap>
      </button>
    </div>
  </section>
</template>
