<script setup lang="ts">
import KeyCap from '@/components/KeyCap.vue'
import type { Starter } from './useCrank'
import SaidAround from '@/components/SaidAround.vue'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

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
        {{ says('stop') }} <span class="figures">{{ rounded(elapsed, 1) }}</span>
      </template>
      <template v-else
        >{{ says('crank') }} <KeyCap class="max-sm:hidden">{{ says('space') }}</KeyCap></template
      >
    </button>
    <span class="text-[0.9rem] text-soft" role="status">
      <b v-if="rest > 0 && !running" class="text-ink" data-rest>{{ says('starter-resting-s', { rest }) }}</b>
      <template v-else-if="unkept && !running">{{ says('s-saved-with', { seconds: unkept.seconds }) }}</template>
      <template v-else-if="crank.seconds">{{ says('s-itself', { seconds: crank.seconds }) }}</template>
      <template v-else-if="crank.beats">{{
        says('compressions-about-s', { beats: crank.beats, crank: rounded(crank.about_s, 0) })
      }}</template>
      <template v-if="ran > 0"
        ><br /><SaidAround :parts="says.around('ran', 'seconds')"
          ><span class="figures">{{ ran }}</span></SaidAround
        ></template
      >
    </span>
  </div>
</template>
