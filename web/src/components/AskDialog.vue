<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { useTemplateRef } from 'vue'
import { question } from '@/outbox/asking'

const mend = useTemplateRef('mend')
</script>

<template>
  <Dialog :open="!!question" :initial-focus="mend" class="relative z-30" @close="question?.answer(false)">
    <div class="fixed inset-0 bg-shade" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel class="w-full max-w-md bg-sheet p-6 shadow-xl" data-asked>
        <DialogTitle class="text-xl font-semibold first-letter:uppercase">{{ question?.why }}</DialogTitle>
        <p class="mt-1 text-soft">It is not kept yet.</p>
        <div class="mt-4 flex gap-3">
          <button ref="mend" class="button-main grow" @click="question?.answer(false)">No, mend it</button>
          <button class="button-plain grow" data-so @click="question?.answer(true)">It is so: keep it</button>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
