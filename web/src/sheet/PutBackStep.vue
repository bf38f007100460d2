<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import { practice } from '@/api/base'
import KeyCap from '@/components/KeyCap.vue'
import { useKeys } from '@/composables/useKeys'
import type { Work } from '@/composables/useSheet'
import { isDiesel } from './cranking'
import AgreedFields from './AgreedFields.vue'
import TickList from './TickList.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

const props = defineProps<{ work: Work }>()
const emit = defineEmits<{ done: [baseline?: boolean]; leave: [] }>()
const sheet = computed(() => props.work.sheet.value!)
const list = useTemplateRef('list')
const left = computed(() => sheet.value.after.filter((t) => !sheet.value.session.ticks?.includes(t.id)).length)

/** A part of a test, or one that found something to act upon, is no baseline unless somebody says so. */
const part = computed(() => sheet.value.unread.length > 0)
const bad = computed(() => ['act', 'stop'].includes(sheet.value.verdict.state))
const asks = computed(() => (part.value || bad.value) && !!sheet.value.session.baseline && !!sheet.value.session.open)
const allTheSame = ref(false)
const finish = () => emit('done', asks.value ? allTheSame.value : undefined)
const names = computed(() => sheet.value.unread.join(', ').replace(/, (\d+)$/, ' and $1'))

useKeys([
  { keys: [' '], does: says('tick') },
  { keys: ['a'], does: says('tick-all-left'), run: () => list.value?.rest() },
  { keys: ['Enter'], does: says('finish-test'), run: finish },
  { keys: ['Escape'], does: says('leave-sheet-everything-saved'), run: () => emit('leave') },
])
</script>

<template>
  <section class="max-w-3xl py-5">
    <h2 class="text-2xl font-medium">{{ says('put-everything-back') }}</h2>
    <p class="mb-2 text-soft">
      {{ says('last-off-goes-back-first') }}
    </p>
    <TickList ref="list" :work="work" :tasks="sheet.after" />
    <p class="mt-4 border-l-4 border-watch pl-3">
      {{
        says(sheet.rotors ? 'fuel-spark-last' : 'crank-oiled-cylinder-clear-before', {
          spark: isDiesel(sheet.engine) ? says('fuel') : says('fuel-spark'),
        })
      }}
    </p>
    <div v-if="part" class="mt-4 border-l-4 border-watch pl-3" data-unread>
      <p class="text-lg">
        {{ says('not-read-nothing-will-said', { names, n: sheet.unread.length }) }}
      </p>
    </div>
    <div v-if="asks" class="mt-4 border-l-4 border-watch pl-3" data-bad>
      <p v-if="bad" class="text-lg">{{ says('found-something-no-baseline') }}</p>
      <label class="flex min-h-11 items-center gap-3">
        <input v-model="allTheSame" type="checkbox" class="size-6 accent-verdigris" />
        {{ says('baseline-all-same-what-engine') }}
      </label>
    </div>
    <AgreedFields v-if="!practice" class="mt-4" :work="work" />
    <div class="mt-4 flex flex-wrap gap-3">
      <!-- On a phone it has a row to itself: it must not move under the finger as its words change. -->
      <button class="button-main min-h-14 grow text-xl max-sm:basis-full" @click="finish">
        {{ left ? says('finish-not-ticked', { left }) : says('finish-test-2') }} <KeyCap>{{ says('enter') }}</KeyCap>
      </button>
      <button v-if="sheet.after.length" class="button-plain min-h-14" @click="list?.rest()">
        {{ says('tick-rest') }} <KeyCap>a</KeyCap>
      </button>
    </div>
  </section>
</template>
