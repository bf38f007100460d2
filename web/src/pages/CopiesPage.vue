<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { copiesQuery } from '@/api/queries'
import LabelledField from '@/components/LabelledField.vue'
import PanelDialog from '@/components/PanelDialog.vue'
import { longDate, longTime } from '@/composables/useFormat'
import { useKeys } from '@/composables/useKeys'
import {} from '@/shop/form'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/copies.json'

const says = sayer(texts)

const client = useQueryClient()
const query = useQuery(copiesQuery)
const page = computed(() => query.data.value)
const fault = ref('')
const said = ref('')
const busy = ref('')
const looked = ref<{ copy: Schemas['Kept']; inside: Schemas['Inside'] }>()
const asking = ref(false)
const place = ref<string>()

async function then<T>(what: string, call: Promise<T>): Promise<T | undefined> {
  fault.value = ''
  said.value = ''
  busy.value = what
  try {
    return await call
  } catch (error) {
    fault.value = error instanceof Error ? error.message : says('not-done')
  } finally {
    busy.value = ''
    await client.invalidateQueries({ queryKey: ['copies'] })
  }
}
async function make() {
  await then('copy', ask(api.POST('/api/copies')))
  if (!fault.value) said.value = says('backup-was-made-checked-last')
}
async function look(copy: Schemas['Kept']) {
  const query = { place: copy.place, name: copy.name }
  const inside = await then(copy.name, ask(api.GET('/api/copies/inside', { params: { query } })))
  looked.value = inside && { copy, inside }
}
async function restore() {
  if (!looked.value) return
  const { place, name } = looked.value.copy
  asking.value = false
  await then('restore', ask(api.POST('/api/copies/restore', { body: { place, name } })))
  if (fault.value) return
  said.value = says('backup-being-restored-page-comes')
  const pause = 700
  for (let tries = 0; tries < 60; tries++) {
    await new Promise((resolve) => setTimeout(resolve, pause))
    if (
      tries > 1 &&
      (await fetch('/api/copies').then(
        (r) => r.ok,
        () => false,
      ))
    )
      break
  }
  location.reload()
}
async function check() {
  const found = await then('check', ask(api.POST('/api/check')))
  if (found) said.value = found.faults.length ? found.faults.join('\n') : says('every-page-every-entry-can')
}
async function setPlace() {
  await then(
    'place',
    ask(api.POST('/api/copies/place', { body: { place: place.value ?? page.value?.places[1] ?? '' } })),
  )
  if (!fault.value) place.value = undefined
}
const size = (bytes: number) =>
  bytes < 1e6 ? says('kb', { size: Math.ceil(bytes / 1000) }) : says('mb', { bytes: rounded(bytes / 1e6, 1) })
/** The copy with the latest entry: they come in that order. */
const newest = computed(() => page.value?.copies.find((c) => !c.fault))
useKeys([])
</script>

<template>
  <main v-if="page" class="mx-auto max-w-[1300px] px-4 py-5 sm:px-6">
    <h1 class="text-3xl font-semibold">{{ says('backups') }}</h1>
    <p class="mt-1 max-w-3xl text-[1.35rem] leading-snug font-medium" data-sentence>
      <template v-if="newest">{{ says('newest-backup-from', { made: longTime(newest.made) }) }}</template>
      <template v-else>{{ says('no-backup-yet-first-made') }}</template>
      <template v-if="page.places.length > 1">{{ says('kept-two-places') }}</template>
      <template v-else-if="newest">{{ says('all-backups-same-disk-as') }}</template>
    </p>
    <p v-if="page.missing" role="alert" class="mt-2 border-l-4 border-act pl-3 font-semibold">
      {{ says('restore-newest-backup-or-sync', { missing: page.missing }) }}
    </p>
    <p v-if="page.failed" role="alert" class="mt-2 border-l-4 border-watch pl-3 font-semibold">{{ page.failed }}</p>
    <p v-if="fault" role="alert" class="mt-2 border-l-4 border-act pl-3 font-semibold">{{ fault }}</p>
    <p v-if="said" role="status" class="mt-2 border-l-4 border-verdigris pl-3 whitespace-pre-line">{{ said }}</p>
    <div class="mt-4 flex flex-wrap gap-3">
      <button class="button-main" :disabled="!!busy" data-make @click="make">{{ says('back-up-now') }}</button>
      <a class="button-plain" href="/api/copies/download" download>{{ says('save-one-device') }}</a>
      <button class="button-plain" :disabled="!!busy" data-check @click="check">
        {{ says('check-whole-file') }}
      </button>
    </div>
    <div class="mt-6 grid gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,10fr)_minmax(0,9fr)]">
      <section :aria-label="says('backups-kept')">
        <h2 class="border-b border-rule pb-1 font-semibold">{{ says('kept') }}</h2>
        <ul>
          <li
            v-for="c in page.copies"
            :key="c.place + c.name"
            class="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 border-b border-rule py-2"
            data-copy
          >
            <div>
              <p class="text-lg font-semibold">{{ longTime(c.made) }}</p>
              <p class="text-[0.95rem] text-soft">
                <span class="figures">{{ size(c.bytes) }}</span>,
                {{ c.place === page.places[0] ? says('beside-data') : c.place
                }}<template v-if="!c.fault"
                  >{{ says('up-entry', { engine: says('engines', { n: c.engines }) }) }}
                  <span class="figures">{{ c.entry }}</span><template v-if="c.entry">
                    {{ says('of', { last: longTime(c.last) }) }}</template
                  ></template
                >
                <b v-if="c.fault" class="block text-ink">{{ c.fault }}</b>
              </p>
            </div>
            <button class="button-plain" :disabled="!!busy || !!c.fault" @click="look(c)">
              {{ says('look-inside') }}<span class="sr-only">: {{ c.name }}</span>
            </button>
          </li>
        </ul>
        <p class="mt-2 text-soft">
          {{ says('one-day-for-week-one') }}
        </p>
      </section>
      <div>
        <section v-if="looked" :aria-label="says('backup')" data-inside>
          <h2 class="border-b border-rule pb-1 font-semibold">
            {{ says('backup-2', { made: longTime(looked.copy.made) }) }}
          </h2>
          <p class="mt-2 text-lg">
            {{
              says('entries', {
                engine: says('engines', { n: looked.inside.engines.filter((e) => !e.lost).length }),
                entries: looked.inside.entries,
                photo: says('photos', { n: looked.inside.photos }),
              })
            }}
            <b v-if="looked.inside.lost">
              {{
                says('typed-since-would-set-aside', {
                  n: looked.inside.lost,
                })
              }}
            </b>
            <template v-else>{{ says('everything-here-now') }}</template>
          </p>
          <table class="mt-2 w-full text-left">
            <thead>
              <tr class="text-[0.95rem] text-soft">
                <th class="font-normal">{{ says('engine') }}</th>
                <th class="text-right font-normal">{{ says('tests') }}</th>
                <th class="text-right font-normal">{{ says('here-now') }}</th>
                <th class="pl-4 font-normal">{{ says('latest') }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="e in looked.inside.engines" :key="e.id" class="border-t border-track">
                <td>
                  {{ e.name }}<b v-if="e.lost" class="block" data-lost>{{ says('not-backup-would-set-aside') }}</b>
                </td>
                <td class="figures text-right">{{ e.tests }}</td>
                <td class="figures text-right" :class="{ 'font-semibold': e.here !== e.tests }">{{ e.here }}</td>
                <td class="pl-4">{{ e.last ? longDate(e.last) : '' }}</td>
              </tr>
            </tbody>
          </table>
          <button v-if="page.restore" class="button-plain mt-4" data-restore @click="asking = true">
            {{ says('restore-backup') }}
          </button>
          <p v-else class="mt-4 text-soft">
            {{ says('restore-machine-runs-braxel-here') }}
            <code class="figures">braxel restore</code>.
          </p>
        </section>
        <section class="mt-8 first:mt-0" :aria-label="says('second-place')">
          <h2 class="border-b border-rule pb-1 font-semibold">{{ says('second-place') }}</h2>
          <p class="mt-2">{{ says('disk-can-fail-choose-folder') }}</p>
          <form v-if="page.local" class="mt-2 flex flex-wrap items-end gap-3" @submit.prevent="setPlace">
            <LabelledField :label="says('folder')" class="grow">
              <input
                class="field figures w-full"
                :value="place ?? page.places[1] ?? ''"
                placeholder="/media/stick/braxel"
                maxlength="1000"
                data-place
                @input="place = ($event.target as HTMLInputElement).value"
              />
            </LabelledField>
            <button class="button-plain" :disabled="!!busy">{{ says('save') }}</button>
          </form>
          <p v-else class="mt-2 text-soft">{{ says('set-machine-runs-braxel') }}</p>
          <p class="mt-4 text-[0.95rem] text-soft">
            {{ says('data') }} <code class="figures break-all text-ink">{{ page.data }}</code>
          </p>
        </section>
      </div>
    </div>
    <PanelDialog :open="asking" @close="asking = false">
      <h2 class="text-xl font-semibold">{{ says('restore-backup-2') }}</h2>
      <p class="mt-2">
        {{ says('what-here-now-kept-aside') }}
        <b v-if="looked?.inside.lost">{{ says('entries-typed-since-will-file', { lost: looked.inside.lost }) }}</b>
      </p>
      <div class="mt-4 flex gap-3">
        <button class="button-main" data-sure @click="restore">{{ says('restore') }}</button>
        <button class="button-plain" @click="asking = false">{{ says('cancel') }}</button>
      </div>
    </PanelDialog>
  </main>
  <main v-else-if="query.isError.value" class="p-6" role="alert">{{ query.error.value?.message }}.</main>
</template>
