<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { rackQuery } from '@/api/queries'
import LabelledField from '@/components/LabelledField.vue'
import { useKeys } from '@/composables/useKeys'
import {} from '@/shop/form'
import { sayer } from '@/words/say'
import texts from '@/words/en/shop.json'

const says = sayer(texts)

const client = useQueryClient()
const rack = useQuery(rackQuery)
const engines = computed(() => [...(rack.data.value?.engines ?? []), ...(rack.data.value?.away ?? [])])
const places = [
  { to: '/import', name: says('import'), words: says('spreadsheet-or-logs-from-another') },
  { to: '/copies', name: says('backups'), words: says('one-day-second-place-too') },
  { to: '/devices', name: says('devices'), words: says('let-phones-network-connect-or') },
  { to: '/protocols', name: says('protocols'), words: says('how-shop-tests') },
  { to: '/rules', name: says('rules'), words: says('limits-intervals-odds-where-your') },
  { to: '/units', name: says('units'), words: says('psi-or-bar-mm-or') },
  { to: '/record', name: says('shop-history'), words: says('gauges-protocols-rules-who-changed') },
  { to: '/help', name: says('help'), words: says('first-engine-first-test-reading') },
]

const code = ref('')
const found = ref<Schemas['Finding']>()
const codeFault = ref('')
async function verify() {
  codeFault.value = ''
  found.value = undefined
  try {
    found.value = await ask(api.POST('/api/verify', { body: { code: code.value } }))
  } catch (error) {
    codeFault.value = error instanceof Error ? error.message : says('not-done')
  }
}

const address = useLocalStorage('braxel.peer', '')
const passcode = ref('')
const synced = ref<Schemas['Synced']>()
const syncFault = ref('')
const busy = ref(false)
const further = (before: Schemas['Synced'], one: Schemas['Synced']): Schemas['Synced'] => ({
  ...one,
  got: before.got + one.got,
  gave: before.gave + one.gave,
  pictures: before.pictures + one.pictures,
  clashes: [...before.clashes, ...one.clashes],
})
/** Goes on as long as the other machine has more: each answer says how far it came. */
async function sync() {
  busy.value = true
  syncFault.value = ''
  synced.value = undefined
  const body = { address: address.value, passcode: passcode.value || undefined }
  try {
    let all = await ask(api.POST('/api/sync', { body }))
    while (all.more) all = further(all, await ask(api.POST('/api/sync', { body })))
    synced.value = all
    await client.invalidateQueries()
  } catch (error) {
    syncFault.value = error instanceof Error ? error.message : says('cut-off-start-again')
  }
  busy.value = false
}
const nameOf = (id: string) => engines.value.find((e) => e.id === id)?.name ?? (id || says('shop'))

const which = ref('')
const out = (as: string) => `/api/export?as=${as}${which.value ? `&engine=${encodeURIComponent(which.value)}` : ''}`
const said = useQuery({ queryKey: ['said-found'], queryFn: () => ask(api.GET('/api/said-found')) })
useKeys([])
</script>

<template>
  <main class="mx-auto max-w-[1300px] px-4 py-5 sm:px-6">
    <h1 class="text-3xl font-semibold">{{ rack.data.value?.shop || says('shop-2') }}</h1>
    <p class="mt-1 text-lg">{{ says('your-data-devices-rules') }}</p>
    <div class="mt-4 grid gap-x-12 gap-y-8 lg:grid-cols-2">
      <ul class="self-start border-t border-rule">
        <li v-for="p in places" :key="p.to" class="border-b border-rule">
          <RouterLink :to="p.to" class="grid min-h-14 items-center gap-x-5 py-2 sm:grid-cols-[11rem_1fr]">
            <b class="text-lg text-verdigris">{{ p.name }}</b>
            <span>{{ p.words }}</span>
          </RouterLink>
        </li>
      </ul>
      <div class="grid content-start gap-y-8">
        <section :aria-label="says('export')">
          <p v-if="said.data.value?.opened" class="mb-6 text-lg" data-said-found>
            {{
              says('opened-braxel-had-named-right', {
                n: said.data.value.opened,
                right: said.data.value.right,
              })
            }}
          </p>
          <h2 class="border-b border-rule pb-1 font-semibold">{{ says('export') }}</h2>
          <p class="mt-2">
            {{ says('open-formats-outlive-program-logs') }}
          </p>
          <div class="mt-2 flex flex-wrap items-end gap-3">
            <LabelledField :label="says('which')">
              <select v-model="which" class="field min-w-48">
                <option value="">{{ says('every-engine') }}</option>
                <option v-for="e in engines" :key="e.id" :value="e.id">{{ e.name }}</option>
              </select>
            </LabelledField>
            <a class="button-plain" :href="out('zip')" download data-export="zip">{{ says('logs-with-photos-zip') }}</a>
            <a class="button-plain" :href="out('jsonl')" download>{{ says('logs-jsonl') }}</a>
            <a class="button-plain" :href="out('xlsx')" download data-export="xlsx">{{ says('readings-xlsx') }}</a>
            <a class="button-plain" :href="out('csv')" download>{{ says('readings-csv') }}</a>
          </div>
        </section>
        <section :aria-label="says('check-paper')">
          <h2 class="border-b border-rule pb-1 font-semibold">{{ says('check-paper') }}</h2>
          <form class="mt-2" @submit.prevent="verify">
            <LabelledField :label="says('eight-words-fingerprint-or-what')" :fault="codeFault || undefined">
              <input v-model="code" class="field w-full text-lg" maxlength="2000" autocapitalize="off" data-code />
            </LabelledField>
            <button class="button-plain mt-2" :disabled="!code.trim()">{{ says('check') }}</button>
          </form>
          <p
            v-if="found"
            role="status"
            class="mt-3 border-l-4 pl-3 text-lg"
            :class="found.same ? 'border-verdigris' : 'border-act font-semibold'"
            data-found
          >
            {{ found.words }}
          </p>
        </section>
        <section :aria-label="says('two-machines-one-shop')">
          <h2 class="border-b border-rule pb-1 font-semibold">{{ says('two-machines-one-shop') }}</h2>
          <p class="mt-2">
            {{ says('laptop-at-track-computer-shop') }} <code class="figures bg-track px-1">--lan</code>.
          </p>
          <form class="mt-2 flex flex-wrap items-end gap-3" @submit.prevent="sync">
            <LabelledField :label="says('address')" class="grow">
              <input
                v-model="address"
                class="field figures w-full"
                placeholder="http://192.168.1.20:8314"
                maxlength="200"
                data-peer
              />
            </LabelledField>
            <LabelledField :label="says('passcode')">
              <input
                v-model="passcode"
                class="field figures w-32"
                inputmode="numeric"
                maxlength="40"
                autocomplete="off"
              />
            </LabelledField>
            <button class="button-plain" :disabled="busy || !address.trim()">
              {{ busy ? says('exchanging') : says('exchange') }}
            </button>
          </form>
          <p v-if="syncFault" role="alert" class="mt-2 font-semibold">{{ syncFault }}</p>
          <div v-if="synced" role="status" class="mt-3 border-l-4 border-verdigris pl-3 text-lg" data-synced>
            <p>
              {{
                says('came-went', {
                  entries: says('entries', { n: synced.got }),
                  gave: synced.gave,
                  photo: says('photos', { n: synced.pictures }),
                  same:
                    synced.got + synced.gave + synced.pictures === 0
                      ? says('both-already-had-same')
                      : says('both-now-have-same'),
                })
              }}
            </p>
            <p v-for="c in synced.clashes" :key="c.words">
              <RouterLink :to="c.engine ? `/engines/${c.engine}` : '/record'" class="link">{{
                nameOf(c.engine)
              }}</RouterLink>: {{ c.words }}.
            </p>
            <p v-for="m in synced.missing" :key="m">{{ m }}</p>
          </div>
        </section>
      </div>
    </div>
  </main>
</template>
