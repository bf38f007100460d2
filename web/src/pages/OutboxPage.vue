<script setup lang="ts">
import { longest } from '@/api/constants.gen'
import { ref } from 'vue'
import { RouterLink } from 'vue-router'
import LabelledField from '@/components/LabelledField.vue'
import { longTime } from '@/composables/useFormat'
import { useKeys } from '@/composables/useKeys'
import type { Waiting } from '@/outbox/disk'
import { fieldsOf, withFields } from '@/outbox/mend'
import { wordsOf } from '@/outbox/mine'
import { again, device, drop, flush, outbox } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/outbox.json'

const says = sayer(texts)

const { all, unreachable } = outbox
const mending = ref<string>()
const typed = ref<Record<string, string>>({})
function mend(w: Waiting) {
  mending.value = w.entry.id
  typed.value = fieldsOf(w.entry.body)
}
async function send(w: Waiting) {
  const body = withFields(w.entry.body, typed.value)
  mending.value = undefined
  await again(w.entry.id, { body } as Partial<Waiting['entry']>)
}
/** The field of an entry that was refused. */
const faultOf = (w: Waiting, field: string) =>
  w.refused?.faults?.find((f) => f.at === `/${field.replaceAll('.', '/')}`)?.what

const by = ref(device())
const sign = () => by.value.trim() && localStorage.setItem('braxel.by', by.value.trim())
useKeys([])
</script>

<template>
  <main class="mx-auto max-w-[1100px] px-4 py-5 sm:px-6">
    <div class="flex flex-wrap items-end gap-x-6 gap-y-2">
      <h1 class="mr-auto text-3xl font-semibold">{{ says('waiting-device') }}</h1>
      <LabelledField :label="says('entries-from-device-signed')">
        <input v-model="by" class="field w-56" :maxlength="longest.Entry.by" @change="sign" />
      </LabelledField>
    </div>
    <p class="mt-2 text-soft">
      {{
        all.length
          ? unreachable
            ? says('cant-reach-braxel-all-kept')
            : says('refused-entry-stays-here-until')
          : says('nothing-waiting-everything-typed-here')
      }}
    </p>
    <ol v-if="all.length" class="mt-4 border-t border-rule">
      <li v-for="w in all" :key="w.entry.id" class="border-b border-rule py-2" data-entry>
        <div class="grid items-center gap-x-5 gap-y-1 sm:grid-cols-[8rem_1fr_auto]">
          <span :class="w.refused ? 'font-semibold' : 'text-soft'">{{
            w.refused ? says('not-saved') : says('waiting')
          }}</span>
          <span>
            <span class="text-lg">{{ wordsOf(w.entry) }}</span>
            <span class="block text-[0.9rem] text-soft">
              {{ longTime(w.entry.at)
              }}<template v-if="w.entry.engine">
                ·
                <RouterLink :to="`/engines/${w.entry.engine}`" class="link">{{ w.entry.engine }}</RouterLink></template
              >
            </span>
            <span v-if="w.refused" class="block font-semibold" data-why>{{ w.refused.why }}</span>
          </span>
          <span class="flex gap-2">
            <button v-if="w.refused && mending !== w.entry.id" class="button-plain" @click="mend(w)">
              {{ says('correct') }}
            </button>
            <button
              v-if="w.refused"
              class="button-plain"
              @click="again(w.entry.id, w.refused.ask ? { sure: true } : {})"
            >
              {{ w.refused.ask ? says('do-anyway') : says('try-again') }}
            </button>
            <button class="button-plain" @click="drop(w.entry.id)">{{ says('discard') }}</button>
          </span>
        </div>
        <form v-if="mending === w.entry.id" class="mt-2 grid gap-3 sm:grid-cols-3" novalidate @submit.prevent="send(w)">
          <LabelledField
            v-for="(_, field) in typed"
            :key="field"
            :label="String(field).replaceAll('_', ' ').replaceAll('.', ', ')"
            :fault="faultOf(w, String(field))"
          >
            <input v-model="typed[field]" class="field" />
          </LabelledField>
          <button class="button-main self-end">{{ says('send-as') }}</button>
        </form>
      </li>
    </ol>
    <button v-if="all.length" class="button-plain mt-4" @click="flush()">{{ says('try-now') }}</button>
  </main>
</template>
