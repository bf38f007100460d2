<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { nanoid } from 'nanoid'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, Refused, type Schemas } from '@/api/client'
import { rackQuery } from '@/api/queries'
import { tell, type Typed } from '@/outbox/useOutbox'
import { useKeys } from '@/composables/useKeys'
import { corrections, handIn, many, outcome, type Picks } from '@/shop/form'
import LogLine from '@/shop/LogLine.vue'
import SheetsCorrected from '@/shop/SheetsCorrected.vue'
import SheetAsks from '@/shop/SheetAsks.vue'
import SheetEngines from '@/shop/SheetEngines.vue'
import SheetRefused from '@/shop/SheetRefused.vue'
import SheetGuess from '@/shop/SheetGuess.vue'
import ImportHelp from '@/shop/ImportHelp.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/import.json'

const says = sayer(texts)

const client = useQueryClient()
const rack = useQuery(rackQuery)
const engines = computed(() => [...(rack.data.value?.engines ?? []), ...(rack.data.value?.away ?? [])])
const file = ref<File>()
const picks = ref<Picks>({})
const theirs = ref<Record<number, string[]>>({})
const page = ref<Schemas['ImportPage']>()
const taken = ref(false)
const fault = ref('')
/** What is under way, and how far it has come. */
const busy = ref<'read' | 'take' | ''>('')
const progress = ref<Schemas['Progress']>()

const sheet = computed(() => page.value?.sheet)
const must = computed(() => sheet.value?.asked.some((a) => a.must) ?? false)
const rows = computed(() => sheet.value?.sheets.reduce((n, s) => n + s.all, 0) ?? 0)
const named = computed(() => [...new Set(sheet.value?.tests.map((t) => t.engine))].slice(0, 3).join(', '))
const logs = computed(() => page.value?.logs ?? [])
const fresh = computed(
  () =>
    (sheet.value?.would ?? []).reduce((n, w) => n + w.new, 0) +
    logs.value.reduce((n, l) => n + (l.would?.new ?? 0) + (theirs.value[l.n]?.length ?? 0), 0),
)

let handed = 0
async function hand(how: 'read' | 'take') {
  if (!file.value) return
  const mine = ++handed
  busy.value = how
  fault.value = ''
  const job = nanoid()
  const following = setInterval(() => void follow(job), 600)
  try {
    const asked = { file: file.value, picks: picks.value, theirs: theirs.value, job }
    const came = await handIn(how, asked)
    if (mine !== handed) return // something newer was asked meanwhile
    page.value = came
    taken.value = how === 'take' && !came.fault
    if (how === 'take') {
      await remember(came)
      await client.invalidateQueries()
    }
  } catch (error) {
    fault.value = error instanceof Refused ? error.message : says('cant-reach-braxel-file-stays')
  } finally {
    clearInterval(following)
    progress.value = undefined
    if (mine === handed) busy.value = ''
  }
}
/** What was corrected is read so in later sheets with the same headings. */
async function remember(came: Schemas['ImportPage']) {
  for (const body of corrections(came.sheet?.sheets ?? [], picks.value)) {
    await tell({ kind: 'columns', body } as unknown as Typed<'columns'>)
  }
}
async function forget(guess: Schemas['Guess']) {
  await tell({ kind: 'columns', body: { id: guess.key, columns: null } } as unknown as Typed<'columns'>)
  await hand('read')
}
/** Cells from the clipboard are a file of their own: spreadsheets put tabs between them. */
function paste(event: ClipboardEvent) {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  const inField = event.target instanceof Element && event.target.closest('input:not([type=file]), select')
  if (inField || !/[\t\n]/.test(text.trim())) return
  event.preventDefault()
  choose(new File([text], says('pasted'), { type: 'text/tab-separated-values' }))
}
useEventListener(document, 'paste', paste)
async function follow(job: string) {
  const now = await ask(api.GET('/api/import/progress', { params: { query: { job } } })).catch(() => undefined)
  if (now?.known && busy.value) progress.value = now
}
const left = computed(() => Math.ceil(progress.value?.left_s ?? 0))

/** The press that ends the typing of a name counts: what was typed is read first, then it is imported. */
let reading: Promise<void> = Promise.resolve()
async function take() {
  await reading
  if (busy.value === 'take') return
  if (must.value) fault.value = says('answer-question-first')
  else if (fresh.value) await hand('take')
}
function choose(given: File | undefined) {
  if (!given) return
  file.value = given
  picks.value = {}
  theirs.value = {}
  page.value = undefined
  taken.value = false
  reading = hand('read')
}
const chosen = (event: Event) => choose((event.target as HTMLInputElement).files?.[0])
// A correction is read anew at once. What was chosen of the differences is asked for only when it is taken in.
watch(picks, () => {
  if (file.value && !taken.value && page.value) reading = hand('read')
})
useKeys([])
</script>

<template>
  <main class="mx-auto max-w-[1300px] px-4 py-5 sm:px-6">
    <h1 class="text-3xl font-semibold">{{ says('import') }}</h1>
    <p v-if="!page" class="mt-1 max-w-3xl text-lg">
      {{ says('import-spreadsheet-csv-any-layout') }}
    </p>
    <label
      class="mt-4 flex min-h-20 max-w-3xl cursor-pointer flex-wrap items-center gap-x-4 border-2 border-dashed border-rule px-5 py-3 text-lg focus-within:outline-2"
      @dragover.prevent
      @drop.prevent="choose($event.dataTransfer?.files[0])"
    >
      <input type="file" class="sr-only" accept=".csv,.tsv,.txt,.xlsx,.xlsm,.ods,.json,.jsonl,.zip" @change="chosen" />
      <span class="button-plain">{{ says('choose-file') }}</span>
      <b v-if="file">{{ file.name }}</b>
      <span v-else class="text-soft">{{ says('or-drop-here-csv-json') }}</span>
    </label>
    <ImportHelp v-if="!file" class="mt-8" @example="choose" />
    <SheetsCorrected v-if="!file" class="mt-8" />
    <div v-if="progress" class="mt-4 max-w-3xl" role="status" data-progress>
      <p class="text-lg">
        {{
          says('file-so-far', {
            verb: busy === 'take' ? says('importing') : says('reading'),
            count: many(progress.logs, 'engine'),
          })
        }}<template v-if="left > 1">{{
          says('about-left', { min: left < 90 ? `${left} s` : says('min', { minutes: Math.round(left / 60) }) })
        }}</template
        >.
      </p>
      <progress class="mt-1 h-3 w-full" :value="progress.done" :max="progress.size || 1"></progress>
    </div>
    <p v-if="fault" role="alert" class="mt-3 border-l-4 border-act pl-3 font-semibold">{{ fault }}</p>
    <p v-if="page?.fault" role="alert" class="mt-3 border-l-4 border-act pl-3 font-semibold" data-fault>
      {{ page.file }}: {{ page.fault }}
    </p>

    <section v-if="sheet" class="mt-5" :aria-label="says('sheet')">
      <p class="text-[1.35rem] leading-snug font-medium" data-sentence>
        <template v-if="taken">
          <template v-for="w in sheet.would" :key="w.engine">
            <RouterLink :to="`/engines/${w.engine}`" class="link">{{ w.name }}</RouterLink>: {{ outcome(w, true) }}.
          </template>
        </template>
        <template v-else>
          {{ many(sheet.tests.length, 'test') }}<template v-if="named"> {{ says('of', { named }) }}</template
          >{{ says('read-from', { row: many(rows, 'row') })
          }}<template v-if="sheet.refused.length">{{ says('refused', { n: sheet.refused.length }) }}</template
          ><template v-if="sheet.doubts.length">{{ says('check', { n: sheet.doubts.length }) }}</template
          >.
          <template v-for="w in sheet.would" :key="w.engine"
            ><template v-if="!w.new || w.here">{{ w.name }}: {{ outcome(w, false) }}. </template></template
          >
        </template>
      </p>
      <template v-if="!taken">
        <SheetAsks v-model="picks" class="mt-4" :asked="sheet.asked" />
        <div class="mt-4 flex flex-wrap items-end gap-x-8 gap-y-4">
          <SheetEngines v-model="picks" :matched="sheet.engines" :engines="engines" />
          <button
            class="button-main"
            :disabled="busy === 'take'"
            :aria-disabled="must || !fresh"
            data-take
            @click="take"
          >
            {{
              must
                ? says('question-first')
                : fresh
                  ? says('import-2', { test: many(sheet.tests.length, 'test') })
                  : says('nothing-new')
            }}
          </button>
        </div>
        <h2 class="mt-6 border-b border-rule pb-1 font-semibold">{{ says('what-each-column-means') }}</h2>
        <section v-for="(one, n) in sheet.sheets" :key="n" class="mt-2" :data-sheet="n">
          <h3 v-if="one.guess.sheet" class="font-semibold">
            {{ one.guess.sheet }} <span class="font-normal text-soft">{{ many(one.all, 'row') }}</span>
          </h3>
          <p v-if="one.guess.learned" data-learned>
            {{ says('read-as-corrected') }}
            <button class="link min-h-11" @click="forget(one.guess)">{{ says('forget') }}</button>
          </p>
          <p v-if="one.guess.turned">
            {{ says('tests-columns-here-were-read') }}
            <button class="link min-h-11" @click="picks = { ...picks, turned: false }">
              {{ says('they-rows') }}
            </button>
          </p>
          <SheetGuess v-model="picks" class="mt-1" :sheet="one" :means="sheet.means" :n="n" />
        </section>
      </template>
      <div class="mt-6 grid gap-x-10 gap-y-6 lg:grid-cols-2">
        <div>
          <h2 class="border-b border-rule pb-1 font-semibold">
            {{ taken ? says('as-they-here-now') : says('as-they-would-be') }}
          </h2>
          <ul class="max-h-96 overflow-auto" tabindex="0">
            <li v-for="(t, i) in sheet.tests" :key="i" class="border-b border-track py-1.5" data-test>
              <b class="figures">{{ t.date || says('day') }}</b> <span class="text-soft">{{ t.engine }}</span><br />{{
                t.words
              }}
            </li>
          </ul>
        </div>
        <div>
          <SheetRefused v-if="sheet.refused.length" v-model="picks" :refused="sheet.refused" :taken="taken" />
          <template v-if="sheet.doubts.length">
            <h2 class="mt-4 border-b border-rule pb-1 font-semibold">{{ says('read-like-please-check') }}</h2>
            <ul>
              <li v-for="(d, i) in sheet.doubts" :key="i" class="border-b border-track py-1.5" data-doubt>
                <b v-if="d.row"
                  ><template v-if="d.sheet">{{ d.sheet }}, </template>{{ says('row', { row: d.row })
                  }}<template v-if="d.column">, {{ d.column }}</template></b
                >
                <template v-if="d.text"
                  >: <span class="figures">{{ d.text }}</span> –</template
                >
                {{ d.words }}.
              </li>
            </ul>
          </template>
          <p v-if="!sheet.refused.length && !sheet.doubts.length" class="text-soft">
            {{ says('every-row-was-read-without') }}
          </p>
        </div>
      </div>
    </section>

    <section v-if="logs.length" class="mt-5" :aria-label="says('logs')">
      <button
        v-if="!taken"
        class="button-main"
        :disabled="busy === 'take'"
        :aria-disabled="!fresh"
        data-take
        @click="take"
      >
        {{
          fresh ? says('import-3', { log: many(logs.filter((l) => l.would?.new).length, 'log') }) : says('nothing-new')
        }}
      </button>
      <ul class="mt-3 border-t border-rule">
        <LogLine
          v-for="l in logs"
          :key="l.n"
          :log="l"
          :taken="taken"
          :model-value="theirs[l.n] ?? []"
          @update:model-value="theirs = { ...theirs, [l.n]: $event }"
        />
      </ul>
    </section>
  </main>
</template>
