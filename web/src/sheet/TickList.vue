<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import type { Work } from '@/composables/useSheet'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

const props = defineProps<{ work: Work; tasks: Schemas['Task'][] }>()

// A tick that is still on its way counts as made.
const ticked = computed(() => {
  const all = new Set(props.work.sheet.value?.session.ticks ?? [])
  for (const e of props.work.waiting('tick')) {
    if (e.body.done) all.add(e.body.line)
    else all.delete(e.body.line)
  }
  return all
})
const tick = (id: string, done: boolean) => props.work.enter('tick', { line: id, done })
defineExpose({ rest: () => props.tasks.filter((t) => !ticked.value.has(t.id)).forEach((t) => void tick(t.id, true)) })
</script>

<template>
  <ul class="border-t border-rule">
    <li v-for="t in tasks" :key="t.id" class="border-b border-track">
      <label class="flex min-h-11 cursor-pointer items-center gap-3 py-0.5 lg:min-h-10">
        <input
          type="checkbox"
          class="size-6 shrink-0 accent-verdigris"
          :checked="ticked.has(t.id)"
          @change="tick(t.id, ($event.target as HTMLInputElement).checked)"
        />
        <span :class="{ 'text-soft': ticked.has(t.id), 'border-l-4 border-watch pl-3': t.safe }"
          >{{ t.words }}<span v-if="t.unsaid" class="text-soft"> {{ says('not-ticked-before-test') }}</span></span
        >
      </label>
    </li>
  </ul>
</template>
