<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import type { Sheet } from '@/composables/useSheet'

const props = defineProps<{ sheet: Sheet }>()
const emit = defineEmits<{ change: [head: Schemas['SessionHead']] }>()

const s = computed(() => props.sheet.session)
const set = (part: Partial<Schemas['SessionHead']>) => emit('change', { ...s.value, ...part })
const temps = ['hot', 'warm', 'cold'] as const
const number = (event: Event) => {
  const text = (event.target as HTMLInputElement).value
  return text === '' ? undefined : Number(text)
}
</script>

<template>
  <form class="flex flex-wrap items-center gap-x-6 gap-y-2 py-2 text-[0.95rem]" aria-label="Conditions" @submit.prevent>
    <label class="flex items-center gap-2">
      <span class="text-soft">meter, {{ sheet.meter_unit || 'h' }}</span>
      <input
        class="field figures w-24"
        type="number"
        min="0"
        step="any"
        :value="s.meter"
        @change="set({ meter: number($event) })"
        @keydown.enter.stop="($event.target as HTMLElement).blur()"
      />
    </label>
    <fieldset class="flex items-center gap-1">
      <legend class="sr-only">Engine temperature</legend>
      <label
        v-for="t in temps"
        :key="t"
        class="flex min-h-11 cursor-pointer items-center border border-rule px-3 has-checked:border-ink has-checked:bg-ink has-checked:text-paper has-focus-visible:outline-3 has-focus-visible:outline-verdigris"
      >
        <input
          class="sr-only"
          type="radio"
          name="temp"
          :value="t"
          :checked="s.conditions?.engine_temp === t"
          @change="set({ conditions: { ...s.conditions, engine_temp: t } })"
        />{{ t }}
      </label>
    </fieldset>
    <label class="flex min-h-11 items-center gap-2">
      <input
        class="size-5 accent-verdigris"
        type="checkbox"
        :checked="s.baseline"
        @change="set({ baseline: !s.baseline })"
      />
      this test defines the baseline
    </label>
  </form>
</template>
