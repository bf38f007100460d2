<script setup lang="ts">
import { marked } from 'marked'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { useKeys } from '@/composables/useKeys'
import aSeason from '../../../docs/guide/a-season.md?raw'
import everyKind from '../../../docs/guide/every-kind.md?raw'
import firstEngine from '../../../docs/guide/first-engine.md?raw'
import practice from '../../../docs/guide/practice.md?raw'
import firstTest from '../../../docs/guide/first-test.md?raw'
import readingAVerdict from '../../../docs/guide/reading-a-verdict.md?raw'
import whenANumberLies from '../../../docs/guide/when-a-number-lies.md?raw'
import SaidAround from '@/components/SaidAround.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/help.json'

const says = sayer(texts)

/** The guide, as it stands in docs/guide. */
const props = defineProps<{ page?: string }>()
const pages = {
  'first-engine': firstEngine,
  'first-test': firstTest,
  'reading-a-verdict': readingAVerdict,
  'a-season': aSeason,
  'when-a-number-lies': whenANumberLies,
  'every-kind': everyKind,
  practice,
}
const pictures = import.meta.glob<string>(
  '../../../docs/screenshots/{new-engine,run-sheet,leak-down,engine,findings,diary,compare,rotary,trace,inspection,needle,debrief}.png',
  { query: '?url', import: 'default', eager: true },
)
const drawings = import.meta.glob<string>('../../../docs/guide/*.svg', {
  query: '?url',
  import: 'default',
  eager: true,
})
const current = computed(() => (props.page && props.page in pages ? props.page : 'first-engine') as keyof typeof pages)
const title = (text: string) => text.slice(2, text.indexOf('\n'))
const html = computed(() => {
  const text = pages[current.value]
    .replace(
      /\.\.\/screenshots\/([\w-]+\.png)/g,
      (_, name: string) => pictures[`../../../docs/screenshots/${name}`] ?? '',
    )
    .replace(/\(([\w-]+\.svg)\)/g, (_, name: string) => `(${drawings[`../../../docs/guide/${name}`] ?? ''})`)
  return marked.parse(text, { async: false })
})
const print = () => window.print()
useKeys([])
</script>

<template>
  <main class="mx-auto grid max-w-[1300px] gap-x-12 px-4 py-5 sm:px-6 md:grid-cols-[13rem_minmax(0,62rem)]">
    <nav :aria-label="says('guide')" class="mb-4 md:pt-2 print:hidden">
      <RouterLink
        v-for="(text, name) in pages"
        :key="name"
        :to="`/help/${name}`"
        class="flex min-h-11 items-center border-b border-rule text-lg"
        :class="{ 'font-semibold': name === current, 'text-verdigris': name !== current }"
        :aria-current="name === current ? 'page' : undefined"
        >{{ title(text) }}</RouterLink
      >
      <button class="button-plain mt-4" @click="print">{{ says('print-page') }}</button>
      <p class="mt-3 text-soft">
        <SaidAround :parts="says.around('any-page', 'key')"><b>?</b></SaidAround>
      </p>
    </nav>
    <!-- The guide ships with the program; nobody else writes it. -->
    <!-- eslint-disable-next-line vue/no-v-html -->
    <article class="guide text-lg" v-html="html" />
  </main>
</template>

<style>
.guide h1 {
  font-size: 1.9rem;
  font-weight: 600;
}
.guide p,
.guide ul,
.guide table,
.guide img {
  margin-top: 0.8rem;
}
.guide ul {
  list-style: disc;
  padding-left: 1.2rem;
}
/* A picture stands beside what it shows where there is room, so that a page is read at a glance. */
.guide p:has(> img) {
  clear: right;
}
.guide img {
  width: 100%;
  border: 1px solid var(--color-rule);
}
@media (min-width: 64rem) {
  .guide p:has(> img) {
    float: right;
    width: 42%;
    margin: 0.2rem 0 0.6rem 1.6rem;
  }
  .guide img {
    max-height: 17.5rem;
    object-fit: contain;
    object-position: right top;
  }
}

.guide td,
.guide th {
  padding: 0.25rem 1rem 0.25rem 0;
  text-align: left;
  border-bottom: 1px solid var(--color-rule);
}
.guide code {
  font-family: var(--font-mono, monospace);
  background: var(--color-track);
  padding: 0 0.25rem;
}
</style>
