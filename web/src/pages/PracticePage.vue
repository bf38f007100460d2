<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Refused, type Schemas } from '@/api/client'
import LabelledField from '@/components/LabelledField.vue'
import { practiceQuery } from '@/practice/queries'
import { sayer } from '@/words/say'
import texts from '@/words/en/practice.json'

const says = sayer(texts)

const router = useRouter()
const client = useQueryClient()
const page = useQuery(practiceQuery)
const fault = ref('')
const engine = ref('four')
const hide = ref('')
const levels = ['', says('plain'), says('less-plain'), says('mean')]
const words: Record<string, string> = { four: says('four-line'), six: says('v6-odd-even-banks') }
const judged = computed(() => page.data.value?.lessons.filter((l) => l.right).length ?? 0)
/** The first engine that was not judged right yet is the next thing to do. */
const next = computed(() => page.data.value?.lessons.find((l) => !l.right)?.id)

type Begin = { lesson?: string; engine?: string; hide?: string }
async function begin(body: Begin) {
  fault.value = ''
  try {
    const one = await ask(api.POST('/api/practice', { body }))
    void client.invalidateQueries({ queryKey: ['practice'] })
    await router.push(sheetOf(one))
  } catch (e) {
    fault.value = e instanceof Refused ? e.message : says('cant-reach-braxel-try-again')
  }
}
const sheetOf = (t: Schemas['PracticeTry']) =>
  t.decided ? `/engines/${t.engine}/debrief` : `/engines/${t.engine}/tests/${t.test}/dry`
</script>

<template>
  <main class="mx-auto max-w-6xl px-4 pb-12 sm:px-6">
    <h1 class="mt-4 text-3xl font-semibold">{{ says('practice') }}</h1>
    <p class="mt-1 max-w-3xl text-lg">
      {{ says('made-up-engines-with-hidden') }}
    </p>
    <p v-if="fault" class="mt-3 border-l-4 border-watch pl-3 text-lg" role="alert">{{ fault }}</p>
    <template v-if="page.data.value">
      <div class="mt-6 grid gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,2fr)_minmax(0,1fr)]">
        <section :aria-label="says('course')">
          <h2 class="flex items-baseline border-b border-ink pb-1 text-xl font-semibold">
            {{ says('twelve-engines-from-easy-hard') }}
            <span class="ml-auto text-base font-normal text-soft" data-judged
              ><b class="figures text-ink">{{ judged }}</b>
              {{ says('right', { n: page.data.value.lessons.length }) }}</span
            >
          </h2>
          <ol>
            <li
              v-for="(l, i) in page.data.value.lessons"
              :key="l.id"
              class="flex flex-wrap items-center gap-x-4 border-b border-rule py-1.5"
              :data-lesson="l.id"
            >
              <b class="figures w-7 text-right">{{ i + 1 }}</b>
              <div class="min-w-0 flex-1 basis-64">
                <b class="text-lg">{{ l.name }}</b> <span class="text-soft">{{ levels[l.level] }}</span><br />{{
                  l.says
                }}
              </div>
              <RouterLink
                v-if="l.last"
                :to="sheetOf(l.last)"
                class="link flex min-h-11 items-center"
                :class="{ 'font-semibold': !l.last.decided }"
                >{{
                  l.last.decided ? (l.last.right ? says('right-2') : says('misjudged')) : says('continue')
                }}</RouterLink
              >
              <button
                class="min-h-11"
                :class="l.id === next && (!l.last || l.last.decided) ? 'button-main' : 'button-plain'"
                @click="begin({ lesson: l.id })"
              >
                {{ l.last ? says('again') : says('test') }}<span class="sr-only">, {{ l.name }}</span>
              </button>
            </li>
          </ol>
        </section>
        <section :aria-label="says('set-up-your-own')">
          <h2 class="border-b border-ink pb-1 text-xl font-semibold">{{ says('one-nobody-has-seen') }}</h2>
          <form class="mt-3 grid gap-3" @submit.prevent="begin({ engine, hide })">
            <LabelledField :label="says('engine')">
              <select v-model="engine" class="field w-full">
                <option v-for="e in page.data.value.engines" :key="e" :value="e">{{ words[e] ?? e }}</option>
              </select>
            </LabelledField>
            <LabelledField :label="says('hidden-fault')">
              <select v-model="hide" class="field w-full" data-hide>
                <option value="">{{ says('let-braxel-choose-or-none') }}</option>
                <option v-for="k in page.data.value.kinds" :key="k.kind" :value="k.kind">{{ k.words }}</option>
              </select>
            </LabelledField>
            <button class="button-plain min-h-12" data-draw>{{ says('put-stand') }}</button>
          </form>
          <ul v-if="page.data.value.drawn.length" class="mt-4">
            <li v-for="t in page.data.value.drawn.slice(0, 8)" :key="t.engine" class="border-b border-rule">
              <RouterLink :to="sheetOf(t)" class="flex min-h-11 items-center justify-between"
                ><span class="link">{{ t.name }}</span
                ><span class="text-soft">{{
                  t.decided ? (t.right ? says('right-2') : says('misjudged')) : says('continue')
                }}</span></RouterLink
              >
            </li>
          </ul>
          <p class="mt-6 border-l-4 border-rule pl-3 text-soft">
            {{ says('real-engine-colder-dirtier-less') }}
          </p>
        </section>
      </div>
    </template>
  </main>
</template>
