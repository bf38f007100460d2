<script setup lang="ts">
import { longest } from '@/api/constants.gen'
import { DialogTitle } from '@headlessui/vue'
import { useQueryClient } from '@tanstack/vue-query'
import { ref, useTemplateRef, watch } from 'vue'
import { api, faultOf, type Problem } from '@/api/client'
import LabelledField from '@/components/LabelledField.vue'
import { fromAddress, later, locked } from '@/api/door'
import { device, flush, outbox, spread } from '@/outbox/useOutbox'
import PanelDialog from './PanelDialog.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

const client = useQueryClient()
const passcode = ref(fromAddress())
const name = ref(device())
const problem = ref<Problem>()
const busy = ref(false)
const field = useTemplateRef('field')
watch(locked, (is) => is && (problem.value = undefined))

async function enter() {
  busy.value = true
  const { error, response } = await api
    .POST('/api/door', { body: { passcode: passcode.value, name: name.value.trim() } })
    .catch(() => ({ error: { detail: says('cant-reach-braxel-try-again') } as Problem, response: undefined }))
  busy.value = false
  problem.value = error as Problem | undefined
  if (!response?.ok) return field.value?.focus()
  localStorage.setItem('braxel.by', name.value.trim())
  passcode.value = ''
  locked.value = later.value = false
  await flush()
  spread({ engines: [], all: true })
  await client.invalidateQueries()
}
</script>

<template>
  <PanelDialog :open="locked && !later" data-door @close="later = true">
    <DialogTitle class="text-2xl font-semibold">{{ says('connect-device') }}</DialogTitle>
    <p class="mt-1 text-soft">
      {{ says('braxel-runs-another-machine-shop') }}
    </p>
    <p v-if="outbox.stored.value.length" class="mt-2 border-l-4 border-watch pl-3" data-safe>
      {{
        says('device-nothing-lost-they-sent', {
          n: outbox.stored.value.length,
        })
      }}
    </p>
    <form class="mt-4 grid gap-3" novalidate @submit.prevent="enter">
      <LabelledField :label="says('passcode')" :fault="problem && !problem.errors ? problem.detail : undefined">
        <input
          ref="field"
          v-model="passcode"
          class="field figures text-3xl tracking-widest"
          inputmode="numeric"
          autocomplete="one-time-code"
          maxlength="12"
        />
      </LabelledField>
      <LabelledField :label="says('name-device')" :fault="faultOf(problem, 'name')">
        <input v-model="name" class="field" :maxlength="longest.EnterRequest.name" />
      </LabelledField>
      <button class="button-main min-h-14 text-xl" :disabled="busy">{{ says('connect') }}</button>
      <button type="button" class="button-plain" @click="later = true">{{ says('later-what-i-enter-waits') }}</button>
    </form>
  </PanelDialog>
</template>
