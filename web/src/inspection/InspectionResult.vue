<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { sayer } from '@/words/say'
import texts from '@/words/en/inspection.json'

const says = sayer(texts)

/** The one page that an inspection results in. */
const props = defineProps<{ page: Schemas['Inspection']; after?: boolean }>()
const print = () => window.print()
const lists = computed(() =>
  [
    { name: says('what-would-cost-work'), of: props.page.work },
    { name: says('ask-seller'), of: props.after ? [] : props.page.ask },
    { name: says('still-unknown'), of: props.page.unknown },
    { name: says('as-should'), of: props.page.fine },
  ].filter((l) => l.of.length > 0),
)
</script>

<template>
  <section :aria-label="says('page')" data-result>
    <p class="hidden text-soft print:block">{{ page.name }} · {{ page.about }} · {{ page.date }}</p>
    <h2
      class="border-t-4 border-ink pt-2 text-2xl leading-tight font-semibold sm:text-3xl"
      aria-live="polite"
      data-heading
    >
      {{ after && page.advice !== 'open' ? says('before-opened') : page.heading }}
    </h2>
    <ol v-if="page.because.length" class="mt-3" data-because>
      <li v-for="r in page.because" :key="r.item + r.says" class="border-b border-track py-1.5">
        <p class="flex gap-2">
          <span
            class="figures w-10 shrink-0 font-semibold tracking-widest"
            :aria-label="says('weighs-4', { weight: r.weight })"
            >{{ '•'.repeat(r.weight) }}</span
          >
          <span class="first-letter:uppercase">{{ r.says }}.</span>
        </p>
        <p v-if="r.note" class="pl-12 text-[0.9rem] text-soft">{{ r.note }}</p>
      </li>
    </ol>
    <p v-if="page.window" class="mt-3">{{ page.window }}</p>
    <div v-for="l in lists" :key="l.name" class="mt-4">
      <h3 class="font-semibold">{{ l.name }}</h3>
      <ul class="mt-0.5">
        <li v-for="line in l.of" :key="line" class="first-letter:uppercase">{{ line }}</li>
      </ul>
    </div>
    <p class="mt-4 text-[0.9rem] text-soft">
      {{ says('aid-not-promise-makers-manual') }}
    </p>
    <button class="button-plain mt-3 min-h-11 print:hidden" @click="print">{{ says('print-page') }}</button>
  </section>
</template>
