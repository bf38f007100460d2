<script setup lang="ts">
import KeyCap from '@/components/KeyCap.vue'
import type { Starter } from './useCrank'

/** Starts and stops the starter, and says what it may stand. */
const props = defineProps<{ starter: Starter }>()
defineEmits<{ press: [] }>()
const { running, elapsed, unkept, crank, rest, ran } = props.starter // the same one for as long as it is shown
</script>

<template>
  <div class="flex flex-col items-stretch gap-1" data-crank>
    <button
      class="min-h-12 min-w-28 border-2 px-3 text-lg font-semibold sm:min-h-14"
      :class="running ? 'border-ink bg-ink text-paper' : 'border-verdigris text-verdigris'"
      @click="$emit('press')"
    >
      <template v-if="running">
        STOP <span class="figures">{{ elapsed.toFixed(1) }}</span>
      </template>
      <template v-else>Crank <KeyCap class="max-sm:hidden">Space</KeyCap></template>
    </button>
    <span class="text-[0.9rem] text-soft" role="status">
      <b v-if="rest > 0 && !running" class="text-ink" data-rest>Starter rests {{ rest }} s</b>
      <template v-else-if="unkept && !running">{{ unkept.seconds }} s, to be kept with it</template>
      <template v-else-if="crank.seconds">{{ crank.seconds }} s by itself</template>
      <template v-else-if="crank.beats">{{ crank.beats }} beats, about {{ crank.about_s.toFixed(0) }} s</template>
      <template v-if="ran > 0"
        ><br />ran <span class="figures">{{ ran }}</span> s in all</template
      >
    </span>
  </div>
</template>
