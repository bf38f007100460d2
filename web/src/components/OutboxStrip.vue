<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { newer } from '@/composables/useUpdate'
import { off, saidOff, trouble } from '@/outbox/clock'
import { heldUp } from '@/outbox/disk'
import { later, locked } from '@/outbox/door'
import { outbox, storesNothing } from '@/outbox/useOutbox'
import { useUndo } from '@/outbox/useUndo'

const { undone, fault, redo, dismiss } = useUndo()
const { stored: waiting, refused, unreachable } = outbox

/** How far this device's clock is off, in words. */
const clock = computed(() => {
  const minutes = Math.round(Math.abs(off.value) / 60_000)
  const units = [
    { words: 'years', minutes: 525_960 },
    { words: 'days', minutes: 1440 },
    { words: 'hours', minutes: 60 },
    { words: 'minutes', minutes: 1 },
  ]
  const unit = units.find((u) => minutes >= 2 * u.minutes)!
  const by = `${Math.round(minutes / unit.minutes)} ${unit.words}`
  return off.value > 0 ? `${by} slow` : `${by} fast`
})
</script>

<template>
  <div class="mx-auto max-w-[1920px] px-4 sm:px-6 print:hidden">
    <p v-if="trouble" class="mt-2 border-l-4 border-stop pl-3 font-semibold" role="alert" data-trouble>{{ trouble }}</p>
    <p v-if="storesNothing" class="mt-2 border-l-4 border-watch pl-3" role="alert" data-stores-nothing>
      This browser can’t store anything: its storage is full or switched off. What you enter goes straight to Braxel. If
      Braxel can’t be reached, it stays in its field; keep this page open.
    </p>
    <p v-if="heldUp" class="mt-2 border-l-4 border-watch pl-3" role="alert" data-held-up>
      Another tab has an older Braxel open. Close it, and this one goes on.
    </p>
    <p v-if="off && !saidOff" class="mt-2 border-l-4 border-watch pl-3" role="status" data-clock>
      This device’s clock is {{ clock }}. Entries get Braxel’s time, and the device’s is kept beside it.
      <button class="link min-h-11" @click="saidOff = true">Close</button>
    </p>
    <p v-if="newer" class="mt-2 border-l-4 border-verdigris pl-3" role="status" data-newer>
      A newer Braxel is ready.
      <button class="link min-h-11" @click="newer()">Load it</button>
    </p>
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
        <button v-if="undone.strikes.length" class="link min-h-11" @click="redo">Take that back</button>
      </template>
      <template v-else>{{ fault }}</template>
      <button class="link ml-3 min-h-11" @click="dismiss">Close</button>
    </p>
  </div>
</template>
