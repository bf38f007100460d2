<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { RouterLink } from 'vue-router'
import { practice } from '@/api/base'
import { useTheme } from '@/composables/usePreferences'
import { rackQuery } from '@/api/queries'
import { outbox } from '@/outbox/useOutbox'
import { useUndo } from '@/outbox/useUndo'
import KeyCap from './KeyCap.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

defineEmits<{ help: [] }>()
const { theme, toggle } = useTheme()
const rack = useQuery(rackQuery)
const { undo } = useUndo()
const { all } = outbox
// What is practised on has its own pages, below another address.
const places = practice
  ? [{ to: '/', name: says('practice') }]
  : [
      { to: '/', name: says('rack') },
      { to: '/season', name: says('season') },
      { to: '/diary', name: says('diary') },
      { to: '/compare', name: says('compare') },
      { to: '/gauges', name: says('gauges') },
      { to: '/sums', name: says('sums') },
      // Where there is room, the shop's own name leads there.
      { to: '/shop', name: says('shop'), narrow: true },
    ]
</script>

<template>
  <header class="border-b border-rule print:hidden">
    <div class="mx-auto flex min-h-11 max-w-[1920px] flex-wrap items-center gap-x-6 px-4 sm:px-6">
      <RouterLink to="/" class="py-2 text-lg font-semibold">{{ says('braxel') }}</RouterLink>
      <nav :aria-label="says('main')" class="flex flex-wrap gap-x-5 max-md:order-last max-md:basis-full">
        <RouterLink
          v-for="p in places"
          :key="p.to"
          :to="p.to"
          class="flex min-h-11 items-center border-b-2 border-transparent text-soft"
          :class="{
            'md:hidden': p.narrow,
            'border-verdigris! text-ink! font-semibold':
              p.to === '/' ? $route.path === '/' : $route.path.startsWith(p.to),
          }"
        >
          {{ p.name }}
        </RouterLink>
        <a :href="practice ? '/' : '/practice/'" class="flex min-h-11 items-center text-soft" data-practice-link>{{
          practice ? says('back-your-rack') : says('practice')
        }}</a>
      </nav>
      <RouterLink v-if="!practice" to="/shop" class="ml-auto hidden min-h-11 items-center text-soft md:flex">{{
        rack.data.value?.shop || says('shop')
      }}</RouterLink>
      <RouterLink v-if="all.length" to="/outbox" class="flex min-h-11 items-center font-semibold" data-outbox>{{
        says('waiting', { n: all.length })
      }}</RouterLink>
      <button
        class="min-h-11 px-2 text-soft"
        :class="practice ? 'ml-auto' : 'max-md:ml-auto'"
        :title="says('ctrl-z')"
        @click="undo"
      >
        {{ says('undo-2') }}
      </button>
      <button class="min-h-11 px-2 text-soft" @click="toggle">
        {{ theme === 'dark' ? says('day') : says('night') }}<span class="sr-only"> {{ says('theme') }}</span>
      </button>
      <button class="min-h-11 px-2" :aria-label="says('show-all-keys')" @click="$emit('help')">
        <KeyCap>?</KeyCap>
      </button>
    </div>
  </header>
</template>
