<script setup lang="ts">
import { Dialog, DialogPanel } from '@headlessui/vue'

/** A dialog over the page, on a sheet of its own. What is set on it beside these is the sheet's. */
defineOptions({ inheritAttrs: false })
defineProps<{ open: boolean; initialFocus?: HTMLElement | null }>()
defineEmits<{ close: [] }>()
</script>

<template>
  <Dialog :open="open" :initial-focus="initialFocus" class="relative z-30" @close="$emit('close')">
    <div class="fixed inset-0 bg-shade" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel class="max-h-full w-full max-w-md overflow-auto bg-sheet p-6 shadow-xl" v-bind="$attrs">
        <slot />
      </DialogPanel>
    </div>
  </Dialog>
</template>
