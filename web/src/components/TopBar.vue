<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
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
/** On a phone so many places are at hand; the others are in a menu. */
const atHand = 3
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
          v-for="(p, n) in places"
          :key="p.to"
          :to="p.to"
          class="flex min-h-11 items-center border-b-2 border-transparent text-soft"
          :class="{
            hidden: p.narrow,
            'max-md:hidden': n >= atHand,
            'border-verdigris! text-ink! font-semibold':
              p.to === '/' ? $route.path === '/' : $route.path.startsWith(p.to),
          }"
        >
          {{ p.name }}
        </RouterLink>
        <a
          :href="practice ? '/' : '/practice/'"
          class="flex min-h-11 items-center text-soft"
          :class="{ 'max-md:hidden': !practice }"
          data-practice-link
          >{{ practice ? says('back-your-rack') : says('practice') }}</a
        >
        <Menu v-if="!practice" as="div" class="relative md:hidden">
          <MenuButton class="flex min-h-11 items-center text-soft" data-more>{{ says('more') }}</MenuButton>
          <MenuItems class="absolute right-0 z-20 min-w-40 border border-rule bg-sheet shadow-xl">
            <MenuItem v-for="p in places.slice(atHand)" :key="p.to" v-slot="{ active }">
              <RouterLink
                :to="p.to"
                class="flex min-h-11 items-center px-4"
                :class="{ 'bg-verdigris-pale': active, 'font-semibold': $route.path.startsWith(p.to) }"
                >{{ p.name }}</RouterLink
              >
            </MenuItem>
            <MenuItem v-slot="{ active }">
              <a
                href="/practice/"
                class="flex min-h-11 items-center px-4"
                :class="{ 'bg-verdigris-pale': active }"
                data-practice-link
                >{{ says('practice') }}</a
              >
            </MenuItem>
          </MenuItems>
        </Menu>
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
