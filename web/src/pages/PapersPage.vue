<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { useLocalStorage } from '@vueuse/core'
import { engineQuery } from '@/api/queries'
import LabelledField from '@/components/LabelledField.vue'
import { longDate } from '@/composables/useFormat'
import { useKeys } from '@/composables/useKeys'
import { base } from '@/api/base'
import { usePageTitle } from '@/composables/usePageTitle'
import { sayer } from '@/words/say'
import texts from '@/words/en/papers.json'

const says = sayer(texts)

const props = defineProps<{ engine: string }>()
const query = useQuery(engineQuery(props.engine))
const page = computed(() => query.data.value)
const tests = computed(() => (page.value?.tests ?? []).filter((t) => !t.struck).reverse())
const test = ref('')
const size = useLocalStorage('braxel.paper', 'a4')
const label = useLocalStorage('braxel.label', '89x36')
const papers = [
  ['wall', says('wall-sheet'), says('blank-for-garage-wall-boxes')],
  ['filled', says('filled-sheet'), says('one-test-as-written-down')],
  ['report', says('report-for-customer'), says('what-one-test-found-in')],
  ['certificate', says('baseline-certificate'), says('how-read-when-was-right')],
  ['before-after', says('before-after'), says('what-repair-came-to')],
  ['season', says('season-report'), says('each-cylinder-over-season-first')],
  ['history', says('history-for-sale'), says('all-tests-events-one-page')],
  ['label', says('engine-label'), says('code-opens-its-page')],
  ['tag', says('valve-cover-tag'), says('each-cylinders-baseline-date-gauge')],
] as const
const answered = computed(() => tests.value.find((t) => t.verdict.repaired))
const numbers = useLocalStorage('braxel.paper.numbers', true)
const contact = ref(false)
const needs = (kind: string) =>
  kind === 'before-after' ? !answered.value : kind !== 'wall' && kind !== 'label' && !tests.value.length
/** Of a test that answers no repair there is no before and after. */
const of = (kind: string) =>
  kind === 'before-after' && !tests.value.find((t) => t.id === test.value)?.verdict.repaired ? '' : test.value
function address(kind: string): string {
  const q = new URLSearchParams({ size: ['tag', 'label'].includes(kind) ? label.value : size.value })
  if (of(kind) && kind !== 'wall' && kind !== 'history') q.set('test', of(kind))
  if (!numbers.value) q.set('numbers', 'no')
  if (contact.value) q.set('contact', 'yes')
  return `${base}/api/engines/${encodeURIComponent(props.engine)}/papers/${kind}.pdf?${q}`
}
/** A phone sends a paper on by its own menu; where it can't, it opens. */
const shares = typeof navigator !== 'undefined' && 'canShare' in navigator
const fault = ref('')
async function share(kind: string, name: string) {
  fault.value = ''
  try {
    const answer = await fetch(address(kind))
    if (!answer.ok) return (fault.value = ((await answer.json()) as { detail?: string }).detail ?? says('not-made'))
    const file = new File([await answer.blob()], `${props.engine}-${kind}.pdf`, { type: 'application/pdf' })
    if (navigator.canShare({ files: [file] })) await navigator.share({ files: [file], title: name })
    else window.open(address(kind), '_blank', 'noopener')
  } catch (e) {
    if ((e as Error).name !== 'AbortError') fault.value = says('not-made')
  }
}
usePageTitle(() => [page.value?.engine.name, says('papers-2')])
useKeys([])
</script>

<template>
  <main v-if="page" class="mx-auto max-w-[1100px] px-4 py-5 sm:px-6">
    <h1 class="text-3xl font-semibold">
      <RouterLink :to="`/engines/${engine}`">{{ page.engine.name }}</RouterLink><span class="font-normal text-soft">
        {{ says('papers') }}</span
      >
    </h1>
    <div class="mt-4 flex flex-wrap gap-x-6 gap-y-3">
      <LabelledField :label="says('which-test')">
        <select v-model="test" class="field min-w-64" data-test>
          <option value="">{{ says('baseline-or-latest') }}</option>
          <option v-for="t in tests" :key="t.id" :value="t.id">
            {{ longDate(t.date) }}{{ t.baseline ? says('baseline') : '' }}
          </option>
        </select>
      </LabelledField>
      <LabelledField :label="says('paper')">
        <select v-model="size" class="field">
          <option value="a4">A4</option>
          <option value="letter">{{ says('letter') }}</option>
        </select>
      </LabelledField>
      <LabelledField :label="says('label')">
        <select v-model="label" class="field">
          <option value="62x29">{{ says('62-29-mm') }}</option>
          <option value="89x36">{{ says('89-36-mm') }}</option>
          <option value="102x51">{{ says('102-51-mm') }}</option>
          <option value="62x100">{{ says('100-62-mm') }}</option>
        </select>
      </LabelledField>
    </div>
    <div v-if="page.engine.identity" class="mt-2 flex flex-wrap gap-x-6">
      <label class="flex min-h-11 items-center gap-2"
        ><input v-model="numbers" type="checkbox" class="size-5 accent-verdigris" />
        {{ says('with-its-numbers') }}</label
      >
      <label class="flex min-h-11 items-center gap-2"
        ><input v-model="contact" type="checkbox" class="size-5 accent-verdigris" />
        {{ says('with-owners-phone') }}</label
      >
    </div>
    <ul class="mt-5 border-t border-rule">
      <li
        v-for="[kind, name, words] in papers"
        :key="kind"
        class="grid items-center gap-x-6 border-b border-rule py-3 sm:grid-cols-[13rem_1fr_auto]"
      >
        <b class="text-lg">{{ name }}</b>
        <span>{{ words }}</span>
        <span v-if="!needs(kind)" class="flex gap-2">
          <button v-if="shares" type="button" class="button-plain" @click="share(kind, name)">
            {{ says('share') }}<span class="sr-only"> {{ says('the', { name }) }}</span>
          </button>
          <a class="button-plain" :href="address(kind)" target="_blank" rel="noopener" :data-paper="kind"
            >{{ says('open') }}<span class="sr-only"> {{ says('the', { name }) }}</span></a
          ></span
        >
        <span v-else class="text-soft">{{
          kind === 'before-after' ? says('after-repair-and-test') : says('after-first-test')
        }}</span>
      </li>
    </ul>
    <p v-if="fault" role="alert" class="mt-3 font-semibold">{{ fault }}</p>
    <p class="mt-4 max-w-3xl text-soft">
      {{ says('anyone-with-certificate-can-check') }}
      <RouterLink to="/shop" class="link">{{ says('shop') }}</RouterLink>.
    </p>
  </main>
  <main v-else-if="query.isError.value" class="p-6" role="alert">{{ query.error.value?.message }}.</main>
</template>
