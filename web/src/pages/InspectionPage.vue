<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, reactive, ref, useTemplateRef, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import KeyCap from '@/components/KeyCap.vue'
import { fromField, unitFor } from '@/composables/shown'
import { noFigure } from '@/composables/figure'
import { longDate } from '@/composables/useFormat'
import { useKeys } from '@/composables/useKeys'
import { usePageTitle } from '@/composables/usePageTitle'
import { useSheet } from '@/composables/useSheet'
import { drop } from '@/outbox/useOutbox'
import AgreedFields from '@/sheet/AgreedFields.vue'
import InspectionResult from '@/inspection/InspectionResult.vue'
import { grouped, nextOf, shownAnswer } from '@/inspection/lines'
import { sayer } from '@/words/say'
import texts from '@/words/en/inspection.json'

const says = sayer(texts)

type Line = Schemas['Line']

const props = defineProps<{ engine: string; session: string; after?: boolean }>()
const router = useRouter()
const client = useQueryClient()
const work = useSheet(props.engine, props.session)
const queryKey = ['inspection', props.engine, props.session, props.after ?? false]
const query = useQuery({
  queryKey,
  queryFn: () =>
    ask(
      api.GET('/api/engines/{engine}/sessions/{session}/inspection', {
        params: { path: { engine: props.engine, session: props.session }, query: { after: props.after ?? false } },
      }),
    ),
})
const page = computed(() => query.data.value)
const lines = computed(() => page.value?.lines ?? [])
const sections = computed(() => grouped(lines.value))

const chosen = ref('')
const current = computed(() => lines.value.find((l) => l.item === (chosen.value || page.value?.next)) ?? lines.value[0])
const typed = reactive<Record<string, string>>({})
const fault = ref<{ item: string; what: string }>()
const list = useTemplateRef<HTMLElement>('list')
watch(
  () => current.value?.item,
  (item) =>
    nextTick(() => {
      const row = list.value?.querySelector<HTMLElement>(`[data-item="${item}"]`)
      row?.scrollIntoView({ block: 'nearest' })
      const field = row?.querySelector('input')
      if (field) field.focus()
      else if (document.activeElement instanceof HTMLInputElement) document.activeElement.blur()
    }),
  { immediate: true },
)

/** Answers a line: by a word, a figure, or neither, where it could not be checked. Then the next that is open comes up. */
async function answer(line: Line, body: { finding?: string; value?: number }) {
  fault.value = undefined
  const after = nextOf(lines.value, line.item)
  const outcome = await work.enter('look', {
    what: 'other',
    item: line.item,
    ...body,
    ...(body.value === undefined ? {} : { unit: line.unit }),
  })
  if (outcome.is === 'refused') {
    fault.value = { item: line.item, what: outcome.answer?.why ?? says('not-saved') }
    if (outcome.entry.id) await drop(outcome.entry.id)
    return
  }
  delete typed[line.item]
  await client.invalidateQueries({ queryKey })
  chosen.value = after
}

function figure(line: Line) {
  const text = (typed[line.item] ?? '').trim()
  if (text === '') return move(1)
  const value = fromField(text, line.unit ?? '')!
  if (Number.isNaN(value)) return void (fault.value = { item: line.item, what: noFigure(text) })
  void answer(line, { value })
}

function pick(n: number) {
  const line = current.value
  const word = line?.answers[n - 1]
  if (line && word) void answer(line, { finding: word })
}
function move(by: number) {
  const at = lines.value.findIndex((l) => l.item === current.value?.item)
  chosen.value = lines.value[(at + by + lines.value.length) % lines.value.length]?.item ?? ''
}
const stepOf = (line: Line) => `/engines/${props.engine}/tests/${props.session}/${line.step}`
function enter() {
  if (current.value?.step) void router.push(stepOf(current.value))
  else move(1)
}

usePageTitle(() => [page.value?.name, 'inspection'])
useKeys([
  { keys: ['1…9'], does: says('answer-number'), run: undefined },
  { keys: [...'123456789'], does: '', run: (e) => pick(Number(e.key)) },
  { keys: ['-'], does: says('couldnt-checked-2'), run: () => current.value && void answer(current.value, {}) },
  { keys: ['Enter'], does: says('save-number-open-step-run'), run: enter },
  { keys: ['ArrowDown'], does: says('next-line'), run: () => move(1) },
  { keys: ['ArrowUp'], does: says('previous-line'), run: () => move(-1) },
  { keys: ['Escape'], does: says('back-engine'), run: () => router.push(`/engines/${props.engine}`) },
])
</script>

<template>
  <main
    v-if="page"
    class="mx-auto grid max-w-[1920px] grid-cols-[minmax(0,1fr)] gap-x-12 px-4 py-4 sm:px-6 lg:grid-cols-[minmax(0,6fr)_minmax(0,5fr)] print:block"
  >
    <header class="lg:col-span-2 print:hidden">
      <h1 class="text-3xl font-semibold">
        <RouterLink :to="`/engines/${engine}`">{{ page.name }}</RouterLink>
        <span class="text-xl font-normal text-soft">
          · {{ after ? says('before-opened-2') : says('inspection') }} · {{ page.about }} ·
          {{ longDate(page.date) }}</span
        >
      </h1>
      <p class="text-soft" role="status" data-done>
        <b class="figures text-ink">{{ page.done }}</b> {{ says('checked', { open: page.done + page.open }) }}
        <RouterLink
          v-if="after"
          :to="`/engines/${engine}/tests/${session}/inspection`"
          class="link ml-3 inline-flex min-h-11 items-center"
          >{{ says('buyers-list') }}</RouterLink
        >
        <RouterLink
          v-else
          :to="`/engines/${engine}/tests/${session}/before-opening`"
          class="link ml-3 inline-flex min-h-11 items-center"
          >{{ says('after-failure-check-before-opening') }}</RouterLink
        >
      </p>
    </header>

    <section ref="list" :aria-label="says('what-check')" class="print:hidden">
      <div v-for="(s, i) in sections" :key="i" class="mt-4">
        <h2 class="border-b border-rule pb-1 font-semibold">{{ s.name }}</h2>
        <div
          v-for="line in s.lines"
          :key="line.item"
          class="border-b border-track px-2 py-1.5"
          :class="{ 'bg-verdigris-pale/60': line.item === current?.item }"
          :data-item="line.item"
          :aria-current="line.item === current?.item"
          @click="chosen = line.item"
        >
          <div class="flex flex-wrap items-baseline gap-x-3">
            <p :class="{ 'font-semibold': line.item === current?.item }">{{ line.words }}</p>
            <p class="ml-auto" :class="line.weight ? 'font-semibold' : 'text-soft'" data-answer>
              <span v-if="line.weight" aria-hidden="true" class="mr-1 tracking-widest">{{
                '•'.repeat(line.weight)
              }}</span>{{ shownAnswer(line) }}
            </p>
          </div>
          <p v-if="line.note" class="text-[0.9rem] text-soft">{{ line.note }}</p>
          <div
            v-if="line.item === current?.item && page.test_open"
            class="mt-1.5 flex flex-wrap items-center gap-2 pb-1"
          >
            <p v-if="line.caution" class="basis-full border-l-4 border-watch pl-3">{{ line.caution }}</p>
            <button
              v-for="(word, n) in line.answers"
              :key="word"
              class="choice min-h-11"
              :aria-pressed="line.answer === word"
              @click.stop="answer(line, { finding: word })"
            >
              <KeyCap class="mr-1.5 max-sm:hidden">{{ n + 1 }}</KeyCap>{{ word }}
            </button>
            <label v-if="line.unit" class="flex items-center gap-2"
              ><input
                v-model="typed[line.item]"
                class="field figures w-32 text-xl"
                inputmode="decimal"
                :aria-label="`${line.words}, ${unitFor(line.unit)}`"
                :aria-invalid="fault?.item === line.item"
                @keydown.enter.prevent.stop="figure(line)"
                @keydown.down.prevent.stop="move(1)"
                @keydown.up.prevent.stop="move(-1)"
                @keydown.-.prevent.stop="answer(line, {})"
              />
              {{ unitFor(line.unit) }}</label
            >
            <button v-if="line.unit" class="button-plain min-h-11" @click.stop="figure(line)">
              {{ says('save') }}
            </button>
            <RouterLink v-if="line.step" :to="stepOf(line)" class="button-plain inline-flex min-h-11 items-center"
              >{{ says('go-run-sheet') }} <KeyCap class="ml-1.5 max-sm:hidden">{{ says('enter') }}</KeyCap></RouterLink
            >
            <button class="link ml-auto min-h-11" data-unchecked @click.stop="answer(line, {})">
              {{ says('couldnt-checked') }} <KeyCap class="max-sm:hidden">-</KeyCap>
            </button>
          </div>
          <p v-if="fault?.item === line.item" class="font-semibold" role="alert" data-fault>{{ fault.what }}</p>
        </div>
      </div>
    </section>

    <div class="mt-4 self-start lg:sticky lg:top-4">
      <InspectionResult :page="page" :after="after" />
      <AgreedFields v-if="page.test_open" class="mt-4" :work="work" @keydown.enter.stop />
    </div>
  </main>
  <main v-else-if="query.isError.value" class="p-6" role="alert">
    {{ query.error.value?.message }}. <RouterLink to="/" class="link">{{ says('back-rack') }}</RouterLink>
  </main>
</template>
