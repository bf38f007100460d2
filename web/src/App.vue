<script setup lang="ts">
import { ref } from 'vue'
import { RouterView } from 'vue-router'
import KeyHelp from './components/KeyHelp.vue'
import TopBar from './components/TopBar.vue'
import { useEventListener } from '@vueuse/core'

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
  <RouterView :key="$route.path.startsWith('/sums') ? 'sums' : $route.path" />
  <KeyHelp :open="help" @close="help = false" />
</template>
