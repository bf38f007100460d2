<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import { useQuery } from '@tanstack/vue-query'
import { rulebookQuery } from '@/api/queries'
import { longDate } from '@/composables/useFormat'
import { tell } from '@/outbox/useOutbox'
import { photoAddress, pictureAddress } from '@/composables/photo'
import HappenedForm, { type Happened } from './HappenedForm.vue'
import MoveTest from './MoveTest.vue'
import StateMark from './StateMark.vue'
import StrikeLine from './StrikeLine.vue'
import { sayer, written } from '@/words/say'
import { worded } from '@/words/values'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

const props = defineProps<{ page: Schemas['EnginePage'] }>()
const emit = defineEmits<{ repair: [was?: Happened] }>()
const rulebook = useQuery(rulebookQuery)
const router = useRouter()
const engine = props.page.engine.id!
const unit = computed(() => props.page.engine.meter_unit ?? '')

/** A line of it: a test, or what happened between tests, in words. */
interface Line {
  kind: string
  date: string
  meter?: number
  test?: Schemas['Test']
  words: string
  struck?: string
  entry: string
  picture?: string
  was?: Happened
}

/** A repair, as it stands in the list: what was done, where, in whose words. */
function repaired(e: Schemas['Event']) {
  const words = rulebook.data.value?.works?.find((w) => w.work === e.work)?.words ?? says('repair')
  const work = words.charAt(0).toUpperCase() + words.slice(1)
  const what = e.what === words ? '' : e.what
  const on = e.cylinders?.length
    ? says('repair-of', { work, cylinders: e.cylinders.join(', '), n: e.cylinders.length, what })
    : says('repair-of-all', { work, what })
  return on.replace(/: $/, '')
}

/** Tests, builds, events and lines of the notebook on one line of time, the latest first. */
const items = computed(() => {
  const p = props.page
  const happened = (
    kind: string,
    key: string | undefined,
    words: string,
    date = '',
    struck?: string,
    meter?: number,
    asks?: string,
    repair?: Schemas['Event'],
  ) => {
    const entry = p.behind[`${kind} ${key ?? ''}`] ?? ''
    return {
      kind,
      date,
      meter,
      words: kind === 'build' ? says('new-build-2', { key: words || key }) : repair ? repaired(repair) : words,
      struck,
      entry,
      was: {
        kind,
        entry,
        id: key,
        date,
        meter,
        what: words,
        asks,
        work: repair?.work,
        cylinders: repair?.cylinders ?? undefined,
        after: repair?.after,
      },
    }
  }
  const all: Line[] = [
    ...p.tests.map((test) => ({ kind: 'test', date: test.date, meter: test.meter, test, words: '', entry: '' })),
    ...p.strips.visits
      .filter((v) => v.struck)
      .map((v) => ({
        kind: 'test',
        date: v.date,
        meter: v.meter,
        words: says('test-struck', { struck: v.struck }),
        struck: v.struck,
        entry: '',
      })),
    ...(p.builds ?? []).map((b) => happened('build', b.id, b.what ?? '', b.date, b.struck)),
    ...(p.events ?? []).map((e) =>
      happened('event', e.key, e.what, e.date, e.struck, e.meter, e.kind, e.kind === 'repair' ? e : undefined),
    ),
    ...(p.notes ?? []).map((n) => {
      const line = happened('note', n.key, n.text, n.date, n.struck)
      // A picture has nothing to put right but what it shows: it is struck, and taken anew.
      return n.photo ? { ...line, was: undefined, picture: n.key } : line
    }),
  ]
  // The latest first, also of one day.
  return all.reverse().sort((a, b) => (a.date === b.date ? 0 : a.date < b.date ? 1 : -1))
})

// What is shown of it: everything, what happened, or tests of one stage.
const show = ref('')
const stages = computed(() => [...new Set(props.page.tests.flatMap((t) => t.stage ?? []))])
const shown = computed(() =>
  items.value.filter((i) => {
    if (show.value === '') return true
    if (show.value === 'happened') return !i.test
    if (show.value === 'photos') return i.test && i.test.photos.length > 0
    return i.test?.stage === show.value
  }),
)
const photos = computed(() => props.page.tests.some((t) => t.photos.length > 0))
// Tests are ticked to be laid side by side.
const chosen = ref<string[]>([])
const only = computed(() =>
  chosen.value.length === 1 ? props.page.tests.find((t) => t.id === chosen.value[0]) : undefined,
)
const compare = () => router.push({ path: '/compare', query: { of: chosen.value.map((id) => `${engine}:${id}`) } })

/** Whether a test says what this build reads when it is right, is decided by hand here. */
const mark = (test: Schemas['Test']) =>
  tell({
    kind: 'test',
    engine,
    body: { id: test.id, baseline: test.baseline ? null : true },
    was: { baseline: test.baseline ?? null },
  })
const moving = ref('')
const adding = ref(false)
/** The entry that is being put right. */
const editing = ref('')
const waits = ref('')
</script>

<template>
  <section>
    <div class="flex flex-wrap items-center gap-x-6 border-b border-rule pb-1">
      <h2 class="font-semibold">{{ says('tests-builds-events-notes') }}</h2>
      <label v-if="items.length > 4" class="flex items-center print:hidden">
        <span class="sr-only">{{ says('show') }}</span>
        <select v-model="show" class="field min-h-11 w-auto">
          <option value="">{{ says('all') }}</option>
          <option v-for="s in stages" :key="s" :value="s">
            {{ says('tests-2', { replace: worded(s) }) }}
          </option>
          <option value="happened">{{ says('builds-events-notes') }}</option>
          <option v-if="photos" value="photos">{{ says('tests-with-photos') }}</option>
        </select>
      </label>
      <span v-if="waits" class="text-soft" role="status">{{ waits }}</span>
      <span class="ml-auto flex flex-wrap gap-x-6 print:hidden">
        <button v-if="only" class="link min-h-11" data-move-test @click="moving = only.id">
          {{ says('move-or-discard') }}
        </button>
        <button v-if="only" class="link min-h-11" data-baseline @click="mark(only)">
          {{ only.baseline ? says('not-baseline') : says('make-baseline') }}
        </button>
        <button v-if="chosen.length > 1" class="button-main" @click="compare">
          {{ says('compare-chosen', { n: chosen.length }) }}
        </button>
        <RouterLink :to="`/engines/${engine}/record`" class="link flex min-h-11 items-center">{{
          says('history-changes')
        }}</RouterLink>
        <button class="link min-h-11" :aria-expanded="adding" @click="adding = !adding">
          {{ says('add-rebuild-event-or-note') }}
        </button>
      </span>
    </div>
    <p v-if="page.offers.length" class="flex flex-wrap gap-x-6 print:hidden" data-offers>
      <RouterLink
        v-for="o in page.offers"
        :key="o.title"
        class="link flex min-h-11 items-center"
        :to="{ path: '/compare', query: { of: o.of } }"
        >{{ o.title }}</RouterLink
      >
    </p>
    <HappenedForm
      v-if="adding"
      :engine="engine"
      :unit="unit || 'h'"
      :today="page.begin.date"
      @kept="(words) => ((waits = words), (adding = false))"
      @repair="((adding = false), emit('repair'))"
    />
    <MoveTest
      :open="moving !== ''"
      :engine="engine"
      :test="moving"
      :builds="page.builds ?? []"
      @close="((moving = ''), (chosen = []))"
    />
    <ol>
      <li v-for="(item, i) in shown" :key="i" class="border-b border-rule">
        <div v-if="item.test" class="flex items-center gap-x-3 hover:bg-sheet">
          <label class="flex size-11 shrink-0 cursor-pointer items-center justify-center print:hidden">
            <input v-model="chosen" type="checkbox" :value="item.test.id" class="size-5 accent-verdigris" />
            <span class="sr-only">{{ says('compare-test', { date: longDate(item.date) }) }}</span>
          </label>
          <RouterLink
            :to="`/engines/${engine}/tests/${encodeURIComponent(item.test.id)}/${item.test.open ? '' : 'findings'}`"
            class="grid min-w-0 grow gap-x-5 py-2 md:grid-cols-[9rem_5.5rem_10.5rem_5.5rem_minmax(0,1fr)] md:items-center"
          >
            <span>{{ longDate(item.date) }}</span>
            <span class="figures">{{ written(item.meter) }} {{ item.meter === undefined ? '' : unit }}</span>
            <span class="text-soft"
              >{{ worded(item.test.stage)
              }}<template v-if="item.test.conditions?.engine_temp"
                >, {{ worded(item.test.conditions.engine_temp) }}</template
              ></span
            >
            <span><StateMark v-if="item.test.verdict.mark" :state="item.test.verdict.mark" /></span>
            <span>{{ item.test.verdict.sentence }}</span>
          </RouterLink>
          <img
            v-for="key in item.test.photos.slice(0, 3)"
            :key="key"
            :src="photoAddress(engine, item.test.id, key)"
            :alt="says('photo-test')"
            class="size-12 shrink-0 object-cover max-md:hidden"
            loading="lazy"
          />
          <span v-if="item.test.baseline" class="shrink-0 text-[0.95rem] text-soft">{{ says('baseline') }}</span>
        </div>
        <template v-else>
          <p
            class="grid gap-x-5 py-2 md:grid-cols-[12.5rem_5.5rem_minmax(0,1fr)_auto] md:items-center md:pl-0"
            :class="item.kind === 'note' ? '' : 'text-verdigris'"
          >
            <span class="md:pl-14">{{ item.date ? longDate(item.date) : '' }}</span>
            <span class="figures">{{ written(item.meter) }} {{ item.meter === undefined ? '' : unit }}</span>
            <span class="flex items-center gap-3" :class="{ 'text-soft line-through': item.struck }"
              ><img
                v-if="item.picture"
                :src="pictureAddress(engine, item.picture)"
                alt=""
                class="size-12 shrink-0 object-cover"
                loading="lazy"
              />{{ item.words }}</span
            >
            <span class="flex gap-x-5 justify-self-end">
              <button
                v-if="item.was && item.entry && !item.struck"
                class="link min-h-11 print:hidden"
                :aria-expanded="editing === item.entry"
                @click="
                  item.was.asks === 'repair'
                    ? emit('repair', item.was)
                    : (editing = editing === item.entry ? '' : item.entry)
                "
              >
                {{ says('change') }}<span class="sr-only"> {{ item.words }}</span>
              </button>
              <StrikeLine :engine="engine" :entry="item.entry" :words="item.words" :struck="item.struck" />
            </span>
          </p>
          <HappenedForm
            v-if="item.was && editing === item.entry && item.entry"
            :engine="engine"
            :unit="unit || 'h'"
            :today="page.begin.date"
            :was="item.was"
            @kept="(words) => ((waits = words), (editing = ''))"
          />
        </template>
      </li>
    </ol>
  </section>
</template>
