<script setup lang="ts">
import { computed } from 'vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

/** The cylinder or rotor in hand, to be read from a step away, with where it is and what it read before. */
const props = defineProps<{
  number: number
  name?: string
  place: string
  baseline?: string
  last?: string
  after?: string
}>()
const unit = computed(() => (props.after ? ` ${props.after}` : ''))
</script>

<template>
  <div class="mt-2 flex items-end gap-x-5">
    <p class="figures text-[3.6rem] leading-none font-semibold sm:text-[7.5rem]" data-current>{{ number }}</p>
    <p class="min-w-0 text-lg leading-snug break-words text-soft sm:pb-3">
      <b v-if="name" class="text-ink">{{ name }}, </b>{{ place }}<br />
      <template v-if="baseline"
        >{{ says('baseline') }} <b class="figures text-ink">{{ baseline }}</b>{{ unit }}</template
      ><template v-if="last"
        >{{ baseline ? says('last') : says('last-3') }} <b class="figures text-ink">{{ last }}</b>{{ unit }}</template
      >
    </p>
    <slot />
  </div>
</template>
