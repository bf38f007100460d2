<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { Work } from '@/composables/useSheet'
import TraceDialog from './TraceDialog.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

/** The recordings of a test, and the way to one more. */
const props = defineProps<{ work: Work; number: number; unit: string }>()
const all = computed(() => (props.work.sheet.value?.session.observations ?? []).filter((o) => o.trace && !o.struck))
/** Those of the whole engine, and of what is tested now: a gauge that speaks leaves one with each pull. */
const kept = computed(() =>
  all.value.filter((o) => !(o.cylinder ?? o.rotor) || (o.cylinder ?? o.rotor) === props.number),
)
const shown = ref<Schemas['Trace']>()
const open = ref(false)
function look(trace?: Schemas['Trace']) {
  shown.value = trace
  open.value = true
}
</script>

<template>
  <div class="mt-3">
    <button class="link min-h-11" :disabled="!work.sheet.value?.session.open" data-read-recording @click="look()">
      {{ says('read-recording-pressure-or-starter') }}
    </button>
    <ul v-if="kept.length" data-recordings>
      <li v-for="o in kept" :key="o.key">
        <button class="link min-h-11 text-left" @click="look(o.trace)">
          <template v-if="o.cylinder || o.rotor"
            ><b class="figures">{{ o.cylinder ?? o.rotor }}</b
            >:
          </template>
          {{ o.trace!.why }}
        </button>
      </li>
    </ul>
    <TraceDialog :open="open" :work="work" :number="number" :unit="unit" :kept="shown" @close="open = false" />
  </div>
</template>
