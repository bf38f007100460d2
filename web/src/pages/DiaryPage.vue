<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { diaryQuery } from '@/api/queries'
import PutOff from '@/diary/PutOff.vue'
import { whenOf } from '@/diary/words'
import { startTest } from '@/composables/startTest'
import { longDate } from '@/composables/useFormat'
import { usePageTitle } from '@/composables/usePageTitle'
import { sayer } from '@/words/say'
import texts from '@/words/en/diary.json'

const says = sayer(texts)

type Item = Schemas['DiaryItem']
const router = useRouter()
const client = useQueryClient()
const diary = useQuery(diaryQuery)
const owner = ref('')
const owners = computed(() => [...new Set((diary.data.value?.items ?? []).flatMap((i) => i.owner ?? []))].sort())
const items = computed(() => (diary.data.value?.items ?? []).filter((i) => !owner.value || i.owner === owner.value))

const heads: Record<Item['standing'], string> = {
  overdue: says('overdue'),
  now: says('today'),
  soon: says('within-month'),
  later: says('later'),
  'put off': says('postponed'),
}
const groups = computed(() =>
  (Object.keys(heads) as Item['standing'][])
    .map((standing) => ({ standing, items: items.value.filter((i) => i.standing === standing) }))
    .filter((g) => g.items.length),
)
/** Where one goes to see to it: what was found, or a test. */
const see = (i: Item) =>
  i.kind === 'mend' && i.test
    ? router.push(`/engines/${i.engine}/tests/${encodeURIComponent(i.test)}/findings`)
    : startTest(router, client, i.engine)

const problem = ref('')
const copied = ref(false)
async function renew() {
  problem.value = ''
  try {
    await ask(api.POST('/api/calendar-key'))
    await client.invalidateQueries({ queryKey: ['diary'] })
  } catch (error) {
    problem.value = (error as Error).message
  }
}
const addresses = computed(() => {
  const d = diary.data.value
  if (!d?.calendar) return []
  return (d.ways.length ? d.ways : [location.origin]).map((w) => w.replace(/\/$/, '') + d.calendar)
})
async function copy(text: string) {
  await navigator.clipboard?.writeText(text)
  copied.value = true
}
usePageTitle(() => [says('diary-2')])
</script>

<template>
  <main class="mx-auto max-w-[1300px] px-4 py-5 sm:px-6">
    <header class="flex flex-wrap items-baseline gap-x-6 gap-y-2">
      <h1 class="text-3xl font-semibold">{{ says('diary') }}</h1>
      <p v-if="diary.data.value" class="text-soft">{{ longDate(diary.data.value.today) }}</p>
      <label v-if="owners.length > 1" class="ml-auto flex items-center gap-2 print:hidden">
        <span class="text-soft">{{ says('of') }}</span>
        <select v-model="owner" class="field w-auto">
          <option value="">{{ says('all-owners') }}</option>
          <option v-for="o in owners" :key="o">{{ o }}</option>
        </select>
      </label>
    </header>
    <p v-if="diary.isError.value" role="alert" class="py-8">
      {{ says('cant-reach-braxel-trying-again') }}
    </p>
    <p v-if="diary.data.value?.pending" role="status" class="mt-2">
      {{ says('engines-being-judged-so-what', { n: diary.data.value.pending }) }}
    </p>
    <p v-if="diary.data.value && items.length === 0" class="py-8 text-xl">
      {{ says('nothing-due-engine-shows-here') }}
    </p>
    <section v-for="g in groups" :key="g.standing" class="mt-6" :data-standing="g.standing">
      <h2 class="border-b border-rule pb-1 text-xl font-semibold">{{ heads[g.standing] }}</h2>
      <ol>
        <li
          v-for="i in g.items"
          :key="i.engine + i.id"
          class="grid items-baseline gap-x-6 border-b border-track py-2 md:grid-cols-[12rem_minmax(0,1fr)_14rem_13rem]"
          data-item
        >
          <p>
            <RouterLink :to="`/engines/${i.engine}`" class="text-xl font-semibold hover:underline">{{
              i.name
            }}</RouterLink>
            <span v-if="i.owner" class="block text-soft">{{ i.owner }}</span>
          </p>
          <p>
            <b class="inline-block font-semibold first-letter:uppercase">{{ i.what }}</b>: {{ i.why
            }}<template v-if="!/[.!?]$/.test(i.why)">.</template>
            <span v-if="i.standing === 'put off'" class="block text-soft">{{ i.put_off_why }}</span>
          </p>
          <p :class="i.standing === 'overdue' ? 'font-semibold' : 'text-soft'">{{ whenOf(i) }}</p>
          <p class="flex gap-x-5 print:hidden md:justify-end">
            <RouterLink v-if="i.kind === 'plan'" to="/season" class="link flex min-h-11 items-center"
              >{{ says('season') }}<span class="sr-only">: {{ i.name }}</span></RouterLink
            >
            <button v-else class="link min-h-11" @click="see(i)">
              {{ i.kind === 'mend' ? says('what-was-found') : i.kind === 'finish' ? says('continue') : says('test')
              }}<span class="sr-only">: {{ i.name }}</span>
            </button>
            <RouterLink
              v-if="i.kind === 'mend'"
              class="link flex min-h-11 items-center"
              :to="`/engines/${i.engine}?repair`"
            >
              {{ says('record-repair') }}<span class="sr-only">: {{ i.name }}</span>
            </RouterLink>
            <PutOff v-if="i.kind !== 'plan'" :item="i" :today="diary.data.value!.today" />
          </p>
        </li>
      </ol>
    </section>

    <section class="mt-10 max-w-3xl print:hidden" data-calendar>
      <h2 class="border-b border-rule pb-1 text-xl font-semibold">{{ says('your-calendar') }}</h2>
      <p class="mt-2">
        <a href="/api/diary.ics" class="link inline-flex min-h-11 items-center" download>{{
          says('download-as-file')
        }}</a>{{ says('or-subscribe-address-stays-up') }}
      </p>
      <ul v-if="addresses.length">
        <li v-for="a in addresses" :key="a" class="flex flex-wrap items-center gap-x-4">
          <code class="figures text-[0.9rem] break-all" data-address>{{ a }}</code>
          <button class="link min-h-11" @click="copy(a)">{{ copied ? says('copied') : says('copy') }}</button>
        </li>
      </ul>
      <p class="mt-1">
        <button class="button-plain" @click="renew">
          {{ addresses.length ? says('renew-address') : says('make-address') }}
        </button>
        <span class="ml-4 text-soft">
          {{
            says('anyone-with-address-can-read', {
              nobody: addresses.length ? says('once-renewed-old-address-stops') : '',
            })
          }}
        </span>
      </p>
      <p v-if="problem" role="alert" class="font-semibold">{{ problem }}</p>
    </section>
    <p class="mt-8 text-soft print:hidden">
      {{ says('test-intervals-set-under') }}
      <RouterLink to="/rules" class="link">{{ says('rules') }}</RouterLink>.
    </p>
  </main>
</template>
