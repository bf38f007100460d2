<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { useTemplateRef } from 'vue'
import { question } from '@/outbox/asking'
import PanelDialog from './PanelDialog.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

const mend = useTemplateRef('mend')
</script>

<template>
  <PanelDialog :open="!!question" :initial-focus="mend" data-asked @close="question?.answer(false)">
    <DialogTitle class="text-xl font-semibold first-letter:uppercase">{{ question?.why }}</DialogTitle>
    <p class="mt-1 text-soft">{{ says('not-saved-yet') }}</p>
    <div class="mt-4 flex gap-3">
      <button ref="mend" class="button-main grow" @click="question?.answer(false)">{{ says('no-correct') }}</button>
      <button class="button-plain grow" data-so @click="question?.answer(true)">{{ says('yes-save') }}</button>
    </div>
  </PanelDialog>
</template>
