<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Schemas } from '@/api/client'
import { many, outcome } from './form'
import { sayer } from '@/words/say'
import texts from '@/words/en/import.json'

const says = sayer(texts)

/** One log of a file: what would come in, what is otherwise here, what cannot come in. */
defineProps<{ log: Schemas['LogRead']; taken: boolean }>()
const theirs = defineModel<string[]>({ required: true })
const shown = 8

function choose(at: string, on: boolean) {
  theirs.value = on ? [...theirs.value, at] : theirs.value.filter((a) => a !== at)
}
</script>

<template>
  <li class="border-b border-rule py-2" :data-log="log.n">
    <p class="text-lg">
      <RouterLink v-if="taken && log.would" :to="`/engines/${log.would.engine}`" class="link font-semibold">{{
        log.name
      }}</RouterLink>
      <b v-else>{{ log.name || says('log', { n: log.n }) }}</b>:
      <template v-if="log.would">{{ outcome(log.would, taken) }}</template>
      <template v-else>{{ says('cant-imported-others-not-affected') }}</template>
    </p>
    <ul v-if="log.refused.length" class="mt-1">
      <li v-for="f in log.refused.slice(0, shown)" :key="f.at + f.what">
        <code class="figures text-[0.9rem]">{{ f.at }}</code> {{ f.what }}
      </li>
      <li v-if="log.refused.length > shown" class="text-soft">
        {{ says('more', { shown: log.refused.length - shown }) }}
      </li>
    </ul>
    <div v-for="d in log.would?.differs ?? []" :key="d.at" class="mt-2 border-l-4 border-watch pl-3" data-differs>
      <p>
        <b>{{ d.what }}.</b>
        <label v-if="d.choice && !taken" class="ml-3 inline-flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            class="size-5"
            :checked="theirs.includes(d.at)"
            @change="choose(d.at, ($event.target as HTMLInputElement).checked)"
          />
          {{ says('use-files') }}
        </label>
        <span v-else class="text-soft"> {{ says('stays-as-here') }}</span>
      </p>
      <table class="mt-1 text-left">
        <thead>
          <tr class="text-[0.9rem] text-soft">
            <th class="pr-6 font-normal">{{ says('field') }}</th>
            <th class="pr-6 font-normal">{{ says('here') }}</th>
            <th class="font-normal">{{ says('file') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in d.sides.slice(0, shown)" :key="s.at">
            <td class="pr-6 text-soft">{{ s.at }}</td>
            <td class="figures pr-6 break-all">{{ s.here ?? '–' }}</td>
            <td class="figures break-all">{{ s.there ?? '–' }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="d.sides.length > shown" class="text-soft">
        {{ says('more-fields', { shown: d.sides.length - shown }) }}
      </p>
    </div>
    <details v-if="log.unknown.length || log.odd.length" class="mt-1">
      <summary class="min-h-8 cursor-pointer text-soft">
        {{ says('braxel-keeps-as', { thing: many(log.unknown.length + log.odd.length, 'thing') }) }}
      </summary>
      <p v-for="u in log.unknown" :key="u">
        <code class="figures text-[0.9rem]">{{ u }}</code> {{ says('not-key-format') }}
      </p>
      <p v-for="o in log.odd" :key="o.at">
        <code class="figures text-[0.9rem]">{{ o.at }}</code> {{ o.what }}
      </p>
    </details>
  </li>
</template>
