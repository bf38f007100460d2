<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { computed, ref, watch } from 'vue'
import type { Work } from '@/composables/useSheet'
import PanelDialog from '@/components/PanelDialog.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

/** Exchanges all readings of two cylinders that were taken for one another. */
const props = defineProps<{ open: boolean; work: Work }>()
const emit = defineEmits<{ close: [] }>()
const sheet = computed(() => props.work.sheet.value!)
const chosen = ref<number[]>([])
watch(
  () => props.open,
  () => (chosen.value = []),
)
const pick = (c: number) =>
  (chosen.value = chosen.value.includes(c) ? chosen.value.filter((x) => x !== c) : [...chosen.value, c].slice(-2))

const keysOf = (cylinder: number) =>
  [
    ...[...sheet.value.cells, ...sheet.value.wet].filter((c) => c.cylinder === cylinder).flatMap((c) => c.pulls),
    ...sheet.value.leak.filter((c) => c.cylinder === cylinder).flatMap((c) => c.attempts),
  ].flatMap((r) => r.key ?? [])
async function swap() {
  const [one, other] = chosen.value as [number, number]
  const moved = (of: number, cylinder: number) => keysOf(of).map((entry) => ({ entry, cylinder }))
  emit('close')
  await props.work.enterAll('move', [...moved(one, other), ...moved(other, one)])
}
</script>

<template>
  <PanelDialog :open="open" data-swap @close="$emit('close')">
    <DialogTitle class="text-lg font-semibold">{{ says('which-two-were-swapped') }}</DialogTitle>
    <p class="text-soft">
      {{ says('all-readings-leak-downs-two') }}
    </p>
    <div class="mt-3 flex flex-wrap gap-2">
      <button
        v-for="c in sheet.cells"
        :key="c.cylinder"
        class="choice figures min-w-12 text-lg"
        :aria-pressed="chosen.includes(c.cylinder)"
        @click="pick(c.cylinder)"
      >
        {{ c.cylinder }}
      </button>
    </div>
    <button class="button-main mt-4 w-full" :disabled="chosen.length < 2" @click="swap">
      {{ chosen.length < 2 ? says('pick-two') : says('exchange', { one: chosen[0], other: chosen[1] }) }}
    </button>
  </PanelDialog>
</template>
