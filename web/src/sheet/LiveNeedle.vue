<script setup lang="ts">
import { computed, watch } from 'vue'
import { say, sound } from '@/composables/useSound'
import GaugeAsking from '@/components/GaugeAsking.vue'
import DialFace from '@/sums/DialFace.vue'
import LiveCurve from './LiveCurve.vue'
import type { LiveGauge } from './useGauge'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

/** The dial and the curve of a gauge that speaks, and what it has come to. */
const props = defineProps<{ live: LiveGauge }>()
defineEmits<{ hands: [] }>()
const { hands } = props.live // the same one for as long as it is shown
const now = computed(() => props.live.now.value)
const others = computed(() => props.live.all.value.filter((g) => !g.followed))

/** The dial ends at a round figure above all that was seen. */
const rounds: Record<string, number[]> = {
  psi: [200, 300, 500, 800],
  kPa: [1500, 2500, 4000, 6000],
  bar: [15, 25, 40, 60],
  'kgf/cm2': [15, 25, 40, 60],
}
const full = computed(() => {
  const seen = Math.max(now.value?.needle ?? 0, now.value?.reading ?? 0)
  const ends = rounds[now.value?.unit ?? 'psi']!
  return ends.find((e) => e > seen * 1.05) ?? ends.at(-1)!
})
watch(
  () => now.value?.beats ?? 0,
  (beats, before) => {
    if (beats <= before || now.value?.phase !== 'rising') return
    sound('second')
    say(String(beats))
  },
)
watch(
  () => now.value?.phase,
  (phase) => phase === 'settled' && say(now.value!.say),
)
</script>

<template>
  <div>
    <GaugeAsking :asking="live.asking.value" />
    <section v-if="now && live.speaks.value" :aria-label="says('gauge')" data-live :data-phase="now.phase">
      <div class="grid grid-cols-[auto_minmax(0,1fr)] items-center gap-x-4">
        <svg viewBox="-78 -78 156 156" class="w-28 sm:w-40" role="img" :aria-label="`${now.needle} ${now.unit}`">
          <DialFace words="" :value="now.needle" :full="full" :text="rounded(now.needle, full > 60 ? 0 : 1)" />
        </svg>
        <div class="h-28 min-w-0 sm:h-40"><LiveCurve :live="live" :full="full" /></div>
      </div>
      <p class="mt-1 text-xl leading-tight font-semibold sm:text-2xl" role="status" data-live-say>{{ now.say }}</p>
      <p class="flex flex-wrap items-center gap-x-5 text-soft">
        <span>
          <b class="figures text-ink">{{ now.beats ?? 0 }}</b> {{ says('compressions')
          }}<template v-if="now.rpm"
            >, <b class="figures text-ink">{{ rounded(now.rpm, 0) }}</b> {{ says('rpm') }}</template
          >
        </span>
        <label class="flex min-h-11 items-center gap-2"
          ><input v-model="hands" type="checkbox" data-hands @change="$emit('hands')" />
          {{ says('save-when-stops-rising') }}</label
        >
      </p>
      <p v-if="others.length" class="border-l-4 border-watch pl-3" data-others>
        {{ says('two-gauges-connected-at-used', { name: live.heard.value?.name, from: live.heard.value?.from }) }}
        <button v-for="g in others" :key="g.id" class="link min-h-11" @click="live.follow(g.id)">
          {{ says('use-at', { name: g.name, from: g.from }) }}
        </button>
      </p>
    </section>
    <p v-else-if="live.fault.value" class="border-l-4 border-watch pl-3 text-lg" role="alert" data-gauge-fault>
      {{ live.fault.value }}
    </p>
  </div>
</template>
