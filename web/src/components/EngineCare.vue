<script setup lang="ts">
import { longest } from '@/api/constants.gen'
import { DialogTitle } from '@headlessui/vue'
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import { tell, type Typed } from '@/outbox/useOutbox'
import { base } from '@/api/base'
import PanelDialog from './PanelDialog.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** Where an engine is, putting it away, and taking it off for good once a copy of it was offered. */
const props = defineProps<{ page: Schemas['EnginePage'] }>()
const engine = props.page.engine.id!
const set = (body: object, was: object) => tell({ kind: 'engine', engine, body, was } as Typed<'engine'>)
const putAway = () =>
  set({ archived: props.page.engine.archived ? null : true }, { archived: props.page.engine.archived ?? null })
const stands = (event: Event) =>
  set({ place: (event.target as HTMLSelectElement).value || null }, { place: props.page.engine.place ?? null })
const history = `${base}/api/engines/${encodeURIComponent(engine)}/log.json`
const asking = ref(false)
const saved = ref(false)
const strike = ref('')
function ask() {
  saved.value = false
  strike.value = ''
  asking.value = true
}
function takeOff() {
  asking.value = false
  void tell({
    kind: 'strike',
    engine,
    body: { entry: props.page.behind.engine!, why: strike.value.trim() || 'deleted' },
  })
}
</script>

<template>
  <div class="mt-2 flex flex-wrap items-center gap-x-6 gap-y-2 print:hidden" data-care>
    <label class="flex items-center gap-2">
      <span class="text-soft">{{ says('location') }}</span>
      <select class="field w-auto" :value="page.engine.place ?? ''" @change="stands">
        <option value="">{{ says('not-noted') }}</option>
        <option value="car">{{ says('car-or-boat') }}</option>
        <option value="stand">{{ says('stand') }}</option>
        <option value="sold">{{ says('elsewhere-sold') }}</option>
      </select>
    </label>
    <a :href="history" download class="link flex min-h-11 items-center">{{ says('export-history') }}</a>
    <button class="link min-h-11" @click="putAway">
      {{ page.engine.archived ? says('put-back-rack') : says('archive-engine') }}
    </button>
    <button v-if="!page.struck" class="link min-h-11" @click="ask">{{ says('delete') }}</button>
  </div>
  <PanelDialog :open="asking" @close="asking = false">
    <DialogTitle class="text-xl font-semibold">{{ says('delete-2', { name: page.engine.name }) }}</DialogTitle>
    <p class="mt-2">
      {{
        says('leaves-rack-with-export-first', {
          n: page.tests.length,
        })
      }}
    </p>
    <a :href="history" download class="button-main mt-3 w-full" @click="saved = true">{{ says('export-history') }}</a>
    <label class="mt-4 block">
      <span class="text-[0.95rem] text-soft">{{ says('reason') }}</span>
      <input v-model="strike" class="field" :maxlength="longest.MarkBody.why" autocomplete="off" />
    </label>
    <div class="mt-3 flex gap-3">
      <button class="button-plain grow" @click="asking = false">{{ says('cancel') }}</button>
      <button class="button-plain grow" data-delete @click="takeOff">
        {{ saved ? says('delete') : says('delete-without-export') }}
      </button>
    </div>
    <p class="mt-2 text-[0.95rem] text-soft">{{ says('entries-stay-history-can-restored') }}</p>
  </PanelDialog>
</template>
