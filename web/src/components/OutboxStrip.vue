<script setup lang="ts">
import { RouterLink } from 'vue-router'
import { later, locked } from '@/outbox/door'
import { outbox } from '@/outbox/useOutbox'
import { useUndo } from '@/outbox/useUndo'

const { undone, fault, redo, dismiss } = useUndo()
const { stored: waiting, refused, unreachable } = outbox
</script>

<template>
  <div class="mx-auto max-w-[1920px] px-4 sm:px-6 print:hidden">
    <p v-if="locked && later" class="mt-2 border-l-4 border-watch pl-3" role="alert" data-locked>
      This device is not let in: what you enter waits on it.
      <button class="link min-h-11" @click="later = false">Type the passcode</button>
    </p>
    <p
      v-else-if="unreachable && $route.path !== '/outbox'"
      class="mt-2 border-l-4 border-watch pl-3"
      role="alert"
      data-waiting
    >
      Braxel cannot be reached. What you enter is kept in this browser and sent when it is back.
      <RouterLink v-if="waiting.length" to="/outbox" class="link">{{ waiting.length }} waiting</RouterLink>
    </p>
    <p
      v-if="refused.length && $route.path !== '/outbox'"
      class="mt-2 border-l-4 border-act pl-3 font-semibold"
      role="alert"
      data-refused
    >
      {{ refused.length === 1 ? 'One entry was' : `${refused.length} entries were` }} not kept:
      {{ refused[0]!.refused!.why }}.
      <RouterLink to="/outbox" class="link">Mend or drop it</RouterLink>
    </p>
    <p v-if="undone || fault" class="mt-2 border-l-4 border-verdigris pl-3" role="status" data-undone>
      <template v-if="undone">
        Undone: {{ undone.words }}.
        <button v-if="undone.strike" class="link min-h-11" @click="redo">Take that back</button>
      </template>
      <template v-else>{{ fault }}</template>
      <button class="link ml-3 min-h-11" @click="dismiss">Close</button>
    </p>
  </div>
</template>
