<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import type { Schemas } from '@/api/client'
import { rulesQuery } from '@/api/queries'
import { shownIn, unitFor } from '@/composables/shown'
import { useKeys } from '@/composables/useKeys'
import RuleDialog from '@/rules/RuleDialog.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/rules.json'

const says = sayer(texts)

type Rule = Schemas['RuleLine']
const query = useQuery(rulesQuery)
const of = (group: Rule['group']) => (query.data.value ?? []).filter((r) => r.group === group)
const own = computed(() => (query.data.value ?? []).filter((r) => r.own))

/** The rules of a group as a table: a row a duty, a column a figure. */
const table = (group: Rule['group']) => {
  const rows = new Map<string, Rule[]>()
  for (const r of of(group)) rows.set(r.of, [...(rows.get(r.of) ?? []), r])
  return [...rows]
}
const groups = computed(
  () =>
    [
      {
        id: 'limits',
        name: says('limits'),
        words: says('from-when-watch-or-act'),
        heads: [says('leak-watch'), says('leak-act'), says('loss-watch'), says('loss-act')],
        units: [says('points'), says('points'), '%', '%'],
      },
      {
        id: 'intervals',
        name: says('intervals'),
        words: says('time-between-tests-meter-or'),
        heads: [says('hours'), unitFor('km'), says('runs-or-events'), says('months')],
        units: ['h', unitFor('km'), '', says('months')],
      },
    ] as const,
)

/** A figure that can be changed is ruled with dots. */
const dotted = 'underline decoration-verdigris decoration-dotted decoration-1 underline-offset-4'

const open = ref<Rule>()
const word = ref('')
function close(kept?: string) {
  open.value = undefined
  word.value = kept ?? ''
}
useKeys([{ keys: ['Escape'], does: says('close-without-changing') }])
</script>

<template>
  <main class="mx-auto max-w-[1200px] px-4 py-5 sm:px-6">
    <div class="flex flex-wrap items-baseline gap-x-6">
      <h1 class="text-3xl font-semibold">{{ says('rules') }}</h1>
      <span v-if="word" role="status" class="text-lg font-semibold" data-word>{{ word }}</span>
    </div>
    <p class="mt-1 max-w-3xl">
      {{ says('where-builders-differ-tap-figure') }}
    </p>
    <ul v-if="own.length" class="mt-4 border-t border-rule" :aria-label="says('your-own')" data-own>
      <li v-for="r in own" :key="r.id" class="border-b border-rule py-2">
        <button class="min-h-11 text-left" @click="open = r">
          <b class="inline-block first-letter:uppercase">{{ r.of }}</b>: {{ r.words }}
          <b class="figures">{{ shownIn(r.value, r.unit) }}</b> {{ unitFor(r.unit) }}
          <span class="text-soft">{{ says('built', { built_in: shownIn(r.built_in, r.unit) }) }}</span>
          <span v-if="r.our_why" class="block text-soft">{{ r.our_why }}</span>
        </button>
      </li>
    </ul>
    <section v-for="g in groups" :key="g.id" class="mt-8" :aria-label="g.name">
      <h2 class="border-b border-rule pb-1 text-xl font-semibold">{{ g.name }}</h2>
      <p class="mt-1 text-soft">{{ g.words }}</p>
      <table class="mt-2 w-full max-w-4xl">
        <thead>
          <tr class="border-b border-rule text-right text-soft max-sm:text-[0.85rem]">
            <th scope="col" class="py-1 text-left font-normal">{{ says('used-for') }}</th>
            <th v-for="(h, i) in g.heads" :key="h" scope="col" class="px-1 font-normal sm:px-3">
              {{ h }}<span v-if="g.id === 'limits'" class="block text-[0.85em]">{{ g.units[i] }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="[duty, rules] in table(g.id)" :key="duty" class="border-b border-track">
            <th scope="row" class="py-1 text-left font-normal first-letter:uppercase">{{ duty }}</th>
            <td v-for="r in rules" :key="r.id" class="text-right">
              <button
                class="figures inline-flex min-h-11 min-w-11 items-center justify-end px-1 sm:px-3"
                :class="r.own ? 'font-semibold text-verdigris underline' : dotted"
                :aria-label="`${r.of}: ${r.words} ${shownIn(r.value, r.unit)} ${unitFor(r.unit)}`"
                :data-rule="r.id"
                @click="open = r"
              >
                {{ r.value ? shownIn(r.value, r.unit) : '–' }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section class="mt-8" :aria-label="says('causes')">
      <h2 class="border-b border-rule pb-1 text-xl font-semibold">{{ says('how-common-each-cause') }}</h2>
      <p class="mt-1 text-soft">
        {{ says('among-engines-come-you-what') }}
      </p>
      <ul class="mt-2 grid gap-x-12 sm:grid-cols-2">
        <li v-for="r in of('causes')" :key="r.id" class="border-b border-track">
          <button
            class="flex min-h-11 w-full items-center justify-between gap-4 text-left"
            :data-rule="r.id"
            @click="open = r"
          >
            <span class="inline-block first-letter:uppercase">{{ r.of }}</span>
            <span class="figures" :class="r.own ? 'font-semibold text-verdigris underline' : dotted">{{
              r.value
            }}</span>
          </button>
        </li>
      </ul>
    </section>
    <p class="mt-8 text-soft">
      {{ says('who-changed-which-rule-when') }}
      <RouterLink to="/record" class="link">{{ says('shop-history') }}</RouterLink>{{ says('how-test-done-set-under') }}
      <RouterLink to="/protocols" class="link">{{ says('protocols') }}</RouterLink>.
    </p>
    <RuleDialog :rule="open" @close="close" />
  </main>
</template>
