<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { newer } from '@/composables/useUpdate'
import { off, saidOff, trouble } from '@/api/clock'
import { heldUp } from '@/outbox/disk'
import { later, locked } from '@/api/door'
import { outbox, storesNothing } from '@/outbox/useOutbox'
import { useUndo } from '@/outbox/useUndo'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

const { undone, fault, redo, dismiss } = useUndo()
const { stored: waiting, refused, unreachable } = outbox

/** How far this device's clock is off, in words. */
const clock = computed(() => {
  const minutes = Math.round(Math.abs(off.value) / 60_000)
  const units = [
    { words: says('years'), minutes: 525_960 },
    { words: says('days'), minutes: 1440 },
    { words: says('hours'), minutes: 60 },
    { words: says('minutes'), minutes: 1 },
  ]
  const unit = units.find((u) => minutes >= 2 * u.minutes)!
  const by = `${Math.round(minutes / unit.minutes)} ${unit.words}`
  return off.value > 0 ? says('slow', { by }) : says('fast', { by })
})
</script>

<template>
  <div class="mx-auto max-w-[1920px] px-4 sm:px-6 print:hidden">
    <p v-if="trouble" class="mt-2 border-l-4 border-stop pl-3 font-semibold" role="alert" data-trouble>{{ trouble }}</p>
    <p v-if="storesNothing" class="mt-2 border-l-4 border-watch pl-3" role="alert" data-stores-nothing>
      {{ says('browser-cant-store-anything-storage') }}
    </p>
    <p v-if="heldUp" class="mt-2 border-l-4 border-watch pl-3" role="alert" data-held-up>
      {{ says('another-tab-has-older-braxel') }}
    </p>
    <p v-if="off && !saidOff" class="mt-2 border-l-4 border-watch pl-3" data-clock>
      <span role="status">{{ says('devices-clock-entries-get-braxels', { clock }) }}</span>
      <button class="link min-h-11" @click="saidOff = true">{{ says('close') }}</button>
    </p>
    <p v-if="newer" class="mt-2 border-l-4 border-verdigris pl-3" data-newer>
      <span role="status">{{ says('newer-braxel-ready') }}</span>
      <button class="link min-h-11" @click="newer()">{{ says('load') }}</button>
    </p>
    <p v-if="locked && later" class="mt-2 border-l-4 border-watch pl-3" role="alert" data-locked>
      {{ says('device-isnt-connected-what-you') }}
      <button class="link min-h-11" @click="later = false">{{ says('type-passcode') }}</button>
    </p>
    <p
      v-else-if="unreachable && $route.path !== '/outbox'"
      class="mt-2 border-l-4 border-watch pl-3"
      role="alert"
      data-waiting
    >
      {{ says('cant-reach-braxel-what-you') }}
      <RouterLink v-if="waiting.length" to="/outbox" class="link">{{
        says('waiting', { n: waiting.length })
      }}</RouterLink>
    </p>
    <p
      v-if="refused.length && $route.path !== '/outbox'"
      class="mt-2 border-l-4 border-act pl-3 font-semibold"
      role="alert"
      data-refused
    >
      {{
        says('not-saved', {
          n: refused.length,
          why: refused[0]!.refused!.why,
        })
      }}
      <RouterLink to="/outbox" class="link">{{ says('correct-or-discard') }}</RouterLink>
    </p>
    <p v-if="undone || fault" class="mt-2 border-l-4 border-verdigris pl-3" data-undone>
      <span role="status">{{ undone ? says('undone', { words: undone.words }) : fault }}</span>
      <button v-if="undone?.strikes.length" class="link ml-3 min-h-11" @click="redo">{{ says('undo') }}</button>
      <button class="link ml-3 min-h-11" @click="dismiss">{{ says('close') }}</button>
    </p>
  </div>
</template>
