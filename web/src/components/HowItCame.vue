<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { rulebookQuery } from '@/api/queries'
import type { Schemas } from '@/api/client'
import { chance } from '@/composables/useFormat'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** How a verdict came about, for who wants it: the accounts of the visit, each cylinder's belief, what would change it. */
const props = defineProps<{ verdict: Schemas['JudgedSession'] }>()
const beliefs = computed(() =>
  props.verdict.cylinders.flatMap((c) => (c.belief ? [{ ...c.belief, at: c.cylinder }] : [])),
)
const rulebook = useQuery(rulebookQuery)
const next = computed(() => [...(props.verdict.next ? [props.verdict.next] : []), ...(props.verdict.then ?? [])])
</script>

<template>
  <details v-if="beliefs.length" class="mt-4" data-how>
    <summary class="link inline-flex min-h-11 cursor-pointer items-center">
      {{ says('how-verdict-was-reached') }}
    </summary>
    <template v-if="verdict.accounts?.length">
      <h3 class="mt-2 text-[0.95rem] font-semibold">{{ says('what-moved-readings-at-visit') }}</h3>
      <ul>
        <li v-for="a in verdict.accounts" :key="a.kind" class="flex gap-3">
          <span class="figures w-14 text-right">{{ chance(a.weight) }} %</span>
          <span
            >{{ a.words }}<template v-if="a.size_pct"> ({{ rounded(Math.abs(a.size_pct), 0) }} %)</template></span
          >
        </li>
      </ul>
    </template>
    <h3 class="mt-3 text-[0.95rem] font-semibold">{{ says('how-likely-for-each-cylinder') }}</h3>
    <div class="overflow-x-auto" tabindex="0" role="region" :aria-label="says('how-likely-for-each-cylinder-2')">
      <table class="w-full max-w-xl text-left">
        <thead class="text-[0.9rem] text-soft">
          <tr class="border-b border-rule">
            <th class="py-1 font-normal">{{ says('cylinder') }}</th>
            <th class="font-normal">{{ says('good') }}</th>
            <th class="font-normal">{{ says('leaks') }}</th>
            <th class="font-normal">{{ says('low-no-leak') }}</th>
            <th class="font-normal">{{ says('just-reading') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="b in beliefs" :key="b.at" class="figures border-b border-track">
            <th scope="row" class="py-1 font-semibold">{{ b.at }}</th>
            <td>{{ chance(b.sound) }}</td>
            <td>{{ chance(b.leaking) }}</td>
            <td>{{ chance(b.short) }}</td>
            <td>{{ chance((b.innocent ?? 0) + (b.failed ?? 0)) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <template v-if="next.length">
      <h3 class="mt-3 text-[0.95rem] font-semibold">{{ says('what-would-change-quickest-first') }}</h3>
      <ol class="list-decimal pl-6">
        <li v-for="n in next" :key="n.test">{{ n.words }}. {{ n.why }}.</li>
      </ol>
    </template>
    <template v-if="rulebook.data.value?.reliability.length">
      <h3 class="mt-3 text-[0.95rem] font-semibold">{{ says('how-often-these-words-are-right') }}</h3>
      <table class="w-full max-w-xl text-left" data-reliability>
        <thead class="text-[0.9rem] text-soft">
          <tr class="border-b border-rule">
            <th class="py-1 font-normal">{{ says('it-says') }}</th>
            <th class="text-right font-normal">{{ says('chance-said') }}</th>
            <th class="text-right font-normal">{{ says('it-was-right') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rulebook.data.value.reliability" :key="r.word" class="border-b border-track">
            <th scope="row" class="py-1 font-normal">{{ r.words }}</th>
            <td class="figures text-right whitespace-nowrap">{{ chance(r.said) }} %</td>
            <td class="figures pl-3 text-right whitespace-nowrap">
              {{ says('of-times', { right: r.right, n: r.times }) }}
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </details>
</template>
