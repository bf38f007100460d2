<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { keysHere } from '@/composables/useKeys'
import KeyCap from './KeyCap.vue'
import PanelDialog from './PanelDialog.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

defineProps<{ open: boolean }>()
defineEmits<{ close: [] }>()
</script>

<template>
  <PanelDialog :open="open" @close="$emit('close')">
    <DialogTitle class="mb-3 text-lg font-semibold">{{ says('keys-page') }}</DialogTitle>
    <dl class="divide-y divide-rule">
      <div
        v-for="key in [
          ...keysHere.filter((k) => k.does),
          { keys: ['Ctrl+Z'], does: 'undo what this device entered last' },
        ]"
        :key="key.does"
        class="flex items-center gap-3 py-2"
      >
        <dt class="flex w-36 shrink-0 flex-wrap gap-1">
          <KeyCap v-for="k in key.keys" :key="k">{{ k === ' ' ? says('space') : k }}</KeyCap>
        </dt>
        <dd>{{ key.does }}</dd>
      </div>
    </dl>
    <p class="mt-3 text-soft">
      {{ says('enter-space-press-focused-button') }}
    </p>
    <button class="button-main mt-5 w-full" @click="$emit('close')">
      {{ says('close') }} <KeyCap>{{ says('esc') }}</KeyCap>
    </button>
  </PanelDialog>
</template>
