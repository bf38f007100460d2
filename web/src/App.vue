<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterView, useRoute } from 'vue-router'
import KeyHelp from './components/KeyHelp.vue'
import TopBar from './components/TopBar.vue'
import { useEventListener } from '@vueuse/core'

const route = useRoute()
// A page is made anew for another engine or test, not for another step or sum.
const pageKey = computed(() => [route.matched[0]?.path, route.params.engine, route.params.session].join(' '))
const help = ref(false)
useEventListener(window, 'keydown', (event) => {
  if (event.key !== '?' || event.ctrlKey || event.metaKey) return
  if (event.target instanceof HTMLTextAreaElement) return
  event.preventDefault()
  help.value = true
})
</script>

<template>
  <TopBar v-if="!$route.meta.bare" @help="help = true" />
  <RouterView :key="pageKey" />
  <KeyHelp :open="help" @close="help = false" />
</template>
