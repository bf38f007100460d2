<script setup lang="ts">
import { Refused } from '@/api/client'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useIntersectionObserver } from '@vueuse/core'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { rackQuery } from '@/api/queries'
import BorePlan from '@/components/BorePlan.vue'
import KeyCap from '@/components/KeyCap.vue'
import StateMark from '@/components/StateMark.vue'
import { startTest } from '@/composables/startTest'
import { longDate } from '@/composables/useFormat'
import { useKeys } from '@/composables/useKeys'
import { dueWords } from '@/diary/words'
import { outbox } from '@/outbox/useOutbox'
import { byDue, finds, none, places, picks, type Pick } from '@/rack/find'
import { sayer, written } from '@/words/say'
import texts from '@/words/en/rack.json'

const says = sayer(texts)

const router = useRouter()
const rack = useQuery(rackQuery)
/** A device that isn't connected yet is asked for the passcode; nothing is out of reach. */
const shut = computed(() => rack.error.value instanceof Refused && [401, 403].includes(rack.error.value.status))
const client = useQueryClient()

/** Engines that were entered here and that the server has not heard of yet. */
const entered = computed(() => {
  const known = new Set([...(rack.data.value?.engines ?? []), ...(rack.data.value?.away ?? [])].map((e) => e.id))
  const begun = outbox.waiting.value.filter((w) => w.entry.kind === 'engine' && !known.has(w.entry.engine ?? ''))
  return [...new Map(begun.map((w) => [w.entry.engine!, (w.entry.body as { name?: string }).name ?? '']))]
})
const find = ref('')
/** An owner's engines are linked to from any of them. */
const pick = ref<Pick>({ ...none, owner: String(useRoute().query.owner ?? '') })
const at = ref(-1)
const field = useTemplateRef<HTMLInputElement>('field')

const engines = computed(() => rack.data.value?.engines ?? [])
const owners = computed(() => [...new Set(engines.value.flatMap((e) => e.owner ?? []))].sort())
const states = ['stop', 'act', 'watch', 'retest', 'steady'] as const
const counts = computed(() =>
  Object.fromEntries(states.map((s) => [s, engines.value.filter((e) => e.state === s).length])),
)
const away = computed(() => (pick.value.place === 'away' ? (rack.data.value?.away ?? []) : engines.value))
const matched = computed(() => away.value.filter((e) => finds(e, find.value) && picks(e, pick.value)))
const shown = computed(() => (pick.value.order === 'due' ? [...matched.value].sort(byDue) : matched.value))
/** On a phone the rest of the filters is shown when it is asked for. */
const more = ref(false)
const narrowed = computed(() => find.value.trim() !== '' || JSON.stringify(pick.value) !== JSON.stringify(none))

// So many are drawn as can be seen, and more as one comes to them.
const some = 40
const drawn = ref(some)
watch([find, pick], () => ((drawn.value = some), (at.value = -1)), { deep: true })
const end = useTemplateRef<HTMLElement>('end')
useIntersectionObserver(end, ([entry]) => entry?.isIntersecting && (drawn.value += some), { rootMargin: '800px' })

function move(by: number) {
  at.value = Math.max(0, Math.min(shown.value.length - 1, at.value + by))
  if (at.value >= drawn.value - 5) drawn.value += some
  document.getElementById(`engine-${at.value}`)?.focus()
}
const focused = () => shown.value[Math.max(at.value, 0)]

// Engines are ticked to be laid side by side.
const chosen = ref<string[]>([])
const compare = () => router.push({ path: '/compare', query: { of: chosen.value } })

useKeys([
  { keys: ['/'], does: says('find-engine'), run: () => field.value?.focus() },
  { keys: ['ArrowDown'], does: says('next-engine'), run: () => move(1), inText: true },
  { keys: ['ArrowUp'], does: says('previous-engine'), run: () => move(-1), inText: true },
  { keys: ['Enter'], does: says('open-engine') },
  { keys: ['t'], does: says('test-engine'), run: () => focused() && startTest(router, client, focused()!.id) },
  { keys: ['n'], does: says('new-engine'), run: () => router.push('/new-engine') },
])
</script>

<template>
  <main class="mx-auto max-w-[1400px] px-4 py-5 sm:px-6">
    <div class="mb-3 flex flex-wrap items-center gap-3">
      <h1 class="sr-only">{{ says('rack') }}</h1>
      <label
        class="flex min-h-11 grow items-center gap-3 border-b border-rule focus-within:border-verdigris sm:max-w-md"
      >
        <span class="sr-only">{{ says('find-engine-name-owner-number') }}</span>
        <input
          ref="field"
          v-model="find"
          type="search"
          :placeholder="says('find-name-owner-number-or')"
          class="min-w-0 grow bg-transparent py-2 outline-none placeholder:text-soft"
          @keydown.enter="focused() && router.push(`/engines/${focused()!.id}`)"
        />
        <KeyCap class="max-sm:hidden">/</KeyCap>
      </label>
      <button v-if="chosen.length > 1" class="button-main" :disabled="chosen.length > 8" @click="compare">
        {{ chosen.length > 8 ? says('eight-at-most') : says('compare-chosen', { n: chosen.length }) }}
      </button>
      <RouterLink to="/new-engine" class="ml-auto" :class="chosen.length > 1 ? 'button-plain' : 'button-main'"
        >{{ says('new-engine-2') }} <KeyCap class="max-sm:hidden">n</KeyCap></RouterLink
      >
    </div>
    <div v-if="engines.length > 2" class="mb-4 flex flex-wrap items-center gap-2 print:hidden" data-filters>
      <template v-for="s in states" :key="s">
        <button
          v-if="counts[s]"
          class="choice"
          :aria-pressed="pick.state === s"
          @click="pick.state = pick.state === s ? '' : s"
        >
          {{ s }} <span class="figures text-soft">{{ counts[s] }}</span>
        </button>
      </template>
      <button class="choice sm:hidden" :aria-expanded="more" @click="more = !more">{{ says('more') }}</button>
      <span class="contents" :class="{ 'max-sm:hidden': !more }">
        <label v-if="owners.length > 1">
          <span class="sr-only">{{ says('owner') }}</span>
          <select v-model="pick.owner" class="field w-auto max-w-48">
            <option value="">{{ says('any-owner') }}</option>
            <option v-for="o in owners" :key="o">{{ o }}</option>
          </select>
        </label>
        <label>
          <span class="sr-only">{{ says('location') }}</span>
          <select v-model="pick.place" class="field w-auto">
            <option value="">{{ says('anywhere') }}</option>
            <option v-for="(words, key) in places" :key="key" :value="key">{{ words }}</option>
          </select>
        </label>
        <label>
          <span class="sr-only">{{ says('due') }}</span>
          <select v-model="pick.due" class="field w-auto">
            <option value="">{{ says('due-or-not') }}</option>
            <option value="overdue">{{ says('due-now-or-overdue') }}</option>
            <option value="soon">{{ says('due-within-month') }}</option>
          </select>
        </label>
        <label>
          <span class="sr-only">{{ says('order') }}</span>
          <select v-model="pick.order" class="field w-auto">
            <option value="">{{ says('worst-first') }}</option>
            <option value="due">{{ says('next-due-first') }}</option>
          </select>
        </label>
      </span>
      <button v-if="narrowed" class="link min-h-11 px-2" @click="((find = ''), (pick = { ...none }))">
        {{ says('show-all', { n: engines.length }) }}
      </button>
    </div>

    <p v-if="rack.isError.value && !shut" role="alert" class="py-8">
      {{ says('cant-reach-braxel-trying-again') }}
    </p>
    <p v-else-if="rack.data.value && engines.length + entered.length === 0" class="py-10 text-xl">
      {{ says('no-engines-yet') }} <RouterLink to="/new-engine" class="link">{{ says('add-first-one') }}</RouterLink>{{
        says('test-test-becomes-baseline')
      }}
    </p>
    <p v-else-if="rack.data.value && shown.length === 0" class="py-8">
      {{ find.trim() ? says('no-engine-with-name-owner') : says('no-engine-like') }}
    </p>

    <p v-if="rack.data.value?.pending" role="status" class="mb-4 text-lg" data-pending>
      {{
        says('being-judged-until-then-you', {
          n: rack.data.value.pending,
        })
      }}
    </p>
    <ol v-if="entered.length" class="border-t border-rule">
      <li v-for="[id, name] in entered" :key="id" data-entered>
        <RouterLink :to="`/engines/${id}`" class="flex min-h-14 items-center gap-4 hover:bg-sheet">
          <span class="text-2xl font-semibold">{{ name }}</span>
          <span class="text-soft">{{ says('added-here-waiting-sent') }}</span>
        </RouterLink>
      </li>
    </ol>
    <ol class="border-t border-rule">
      <li
        v-for="(e, i) in shown.slice(0, drawn)"
        :key="e.id"
        class="flex items-center border-b border-rule hover:bg-sheet [content-visibility:auto] [contain-intrinsic-size:auto_6rem]"
      >
        <label class="flex w-11 shrink-0 cursor-pointer items-center justify-center self-stretch print:hidden">
          <input v-model="chosen" type="checkbox" :value="e.id" class="size-5 accent-verdigris" />
          <span class="sr-only">{{ says('compare', { name: e.name }) }}</span>
        </label>
        <RouterLink
          :id="`engine-${i}`"
          :to="`/engines/${e.id}`"
          class="grid min-w-0 grow grid-cols-[4.5rem_1fr] items-center gap-x-4 gap-y-1 py-3 sm:grid-cols-[9rem_1fr_15rem] sm:gap-x-5"
          @focus="at = i"
        >
          <div class="flex h-16 items-center justify-center overflow-hidden sm:row-span-2">
            <BorePlan
              v-if="e.layout.banks?.length || e.layout.rotors"
              mini
              :name="e.name"
              :layout="e.layout"
              :bores="e.bores"
              class="max-h-16"
            />
          </div>
          <div class="min-w-0 sm:self-end">
            <p class="flex flex-wrap items-center gap-x-3 gap-y-1">
              <span class="text-2xl font-semibold">{{ e.name }}</span>
              <span v-if="e.pending" class="text-soft">{{ says('being-judged') }}</span>
              <StateMark v-else-if="e.state" :state="e.state" />
              <span class="text-soft"
                >{{ e.about }}<template v-if="e.owner"> · {{ e.owner }}</template
                ><template v-if="e.place"> · {{ places[e.place] }}</template></span
              >
            </p>
          </div>
          <p
            class="text-lg max-sm:order-3 max-sm:col-span-2 sm:col-start-2 sm:row-start-2 sm:self-start"
            :class="{ 'text-soft': e.pending }"
          >
            {{ e.headline }}
          </p>
          <p
            class="text-soft max-sm:order-4 max-sm:col-span-2 sm:col-start-3 sm:row-span-2 sm:row-start-1 sm:text-right"
          >
            <span
              v-if="e.diary[0]"
              class="sm:block"
              :class="{ 'font-semibold text-ink': e.diary[0].standing === 'overdue' }"
              data-due
              ><span class="inline-block first-letter:uppercase">{{ dueWords(e.diary[0]) }}</span></span
            >
            <span v-if="e.last_test" class="text-[0.95rem] sm:block">
              {{ says('tested', { last_test: longDate(e.last_test) })
              }}<template v-if="e.meter !== undefined">
                {{ says('at') }} <span class="figures">{{ written(e.meter) }}</span> {{ e.meter_unit }}</template
              >
            </span>
          </p>
        </RouterLink>
      </li>
    </ol>
    <p v-if="drawn < shown.length" ref="end" class="py-4 text-soft">
      <button class="link min-h-11" @click="drawn += some">
        {{ says('more-2', { drawn: shown.length - drawn }) }}
      </button>
    </p>
    <p class="mt-6 flex flex-wrap gap-x-6 print:hidden">
      <button
        v-if="rack.data.value?.away.length && pick.place !== 'away'"
        class="link min-h-11"
        @click="pick = { ...none, place: 'away' }"
      >
        {{ says('archived-or-deleted', { n: rack.data.value.away.length }) }}
      </button>
      <RouterLink to="/seat" class="link flex min-h-11 items-center">{{ says('helpers-screen') }}</RouterLink>
      <RouterLink to="/devices" class="link flex min-h-11 items-center">{{ says('devices') }}</RouterLink>
    </p>
  </main>
</template>
