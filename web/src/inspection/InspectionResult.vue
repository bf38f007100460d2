<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** The one page that an inspection results in. */
const props = defineProps<{ page: Schemas['Inspection']; after?: boolean }>()
const print = () => window.print()
const lists = computed(() =>
  [
    { name: 'What it would cost in work', of: props.page.work },
    { name: 'Ask the seller', of: props.after ? [] : props.page.ask },
    { name: 'What stays unknown', of: props.page.unknown },
    { name: 'As it should be', of: props.page.fine },
  ].filter((l) => l.of.length > 0),
)
</script>

<template>
  <section aria-label="The page" class="self-start lg:sticky lg:top-4" data-result>
    <p class="hidden text-soft print:block">{{ page.name }} · {{ page.about }} · {{ page.date }}</p>
    <h2
      class="border-t-4 border-ink pt-2 text-2xl leading-tight font-semibold sm:text-3xl"
      aria-live="polite"
      data-heading
    >
      {{ after && page.advice !== 'open' ? 'Before it is opened' : page.heading }}
    </h2>
    <ol v-if="page.because.length" class="mt-3" data-because>
      <li v-for="r in page.because" :key="r.item + r.says" class="border-b border-track py-1.5">
        <p class="flex gap-2">
          <span class="figures w-10 shrink-0 font-semibold tracking-widest" :aria-label="`weighs ${r.weight} of 4`">{{
            '•'.repeat(r.weight)
          }}</span>
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
      An aid, no promise: the maker’s manual and a builder’s eye come first; what carries passengers, flies or goes to
      sea needs a licensed person’s word.
    </p>
    <button class="button-plain mt-3 min-h-11 print:hidden" @click="print">Print the page</button>
  </section>
</template>
