<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import KeyCap from '@/components/KeyCap.vue'
import { placesOf } from './places'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

type Path = Schemas['Path']
const props = defineProps<{ kind: Schemas['Engine']['kind']; paths?: Path[]; armed?: Path; beside: number[] }>()
const offered = computed(() => placesOf(props.kind, props.beside.length === 0))
defineEmits<{ place: [where: Path['where']]; nothing: []; louder: [level: number] }>()
const on = (where: Path['where']) => props.paths?.find((p) => p.where === where)
const loud = [says('faint'), says('clear'), says('strong')]
</script>

<template>
  <div class="mt-1 grid grid-cols-3 gap-2">
    <button
      v-for="p in offered"
      :key="p.where"
      type="button"
      class="flex min-h-12 items-center sm:min-h-14 justify-between gap-1 border px-2 text-left leading-tight font-semibold sm:px-3 sm:text-lg"
      :class="on(p.where) ? 'border-ink bg-ink text-paper' : 'border-rule bg-sheet'"
      :aria-pressed="on(p.where) !== undefined"
      @click="$emit('place', p.where)"
    >
      <span
        >{{ p.words }}<template v-if="on(p.where)?.cylinder"> {{ on(p.where)!.cylinder }}</template></span
      >
      <span class="flex items-center gap-1.5">
        <span v-for="n in on(p.where)?.level ?? 0" :key="n" class="size-2 rounded-full bg-current" aria-hidden="true" />
        <span v-if="on(p.where)" class="sr-only">{{ loud[(on(p.where)!.level ?? 1) - 1] }}</span>
        <KeyCap class="max-sm:hidden">{{ p.key }}</KeyCap>
      </span>
    </button>
  </div>
  <div class="mt-2 flex flex-wrap gap-2">
    <button
      type="button"
      class="min-h-11 border px-3"
      :class="paths?.length === 0 ? 'border-ink bg-ink text-paper' : 'border-rule bg-sheet'"
      :aria-pressed="paths?.length === 0"
      @click="$emit('nothing')"
    >
      <span v-if="paths?.length === 0" aria-hidden="true">✓ </span>{{ says('nothing-heard') }}
      <KeyCap class="max-sm:hidden">l</KeyCap>
    </button>
    <template v-if="armed">
      <button
        v-for="(words, i) in loud"
        :key="words"
        type="button"
        class="min-h-11 border px-3"
        :class="armed.level === i + 1 ? 'border-verdigris bg-verdigris-pale font-semibold' : 'border-rule bg-sheet'"
        :aria-pressed="armed.level === i + 1"
        @click="$emit('louder', i + 1)"
      >
        {{ words }} <KeyCap class="max-sm:hidden">{{ i + 1 }}</KeyCap>
      </button>
    </template>
  </div>
</template>
