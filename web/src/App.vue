<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { rulebookQuery } from '@/api/queries'
import { computed, ref, watch } from 'vue'
import { RouterView, useRoute } from 'vue-router'
import AskDialog from './components/AskDialog.vue'
import DoorDialog from './components/DoorDialog.vue'
import KeyHelp from './components/KeyHelp.vue'
import OutboxStrip from './components/OutboxStrip.vue'
import TopBar from './components/TopBar.vue'
import { sendChoice, workshops } from './composables/shown'
import { useKeys } from './composables/useKeys'
import { useUndo } from './outbox/useUndo'
import { useEventListener } from '@vueuse/core'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

const route = useRoute()
// A page is made anew for another engine or test, not for another step or sum.
const pageKey = computed(() => [route.matched[0]?.path, route.params.engine, route.params.session].join(' '))
const help = ref(false)
const { undo } = useUndo()
// Undo works on every page; in a field, the browser's own undoing of letters comes first.
useEventListener(window, 'keydown', (event) => {
  if (!(event.ctrlKey || event.metaKey) || event.shiftKey || event.key.toLowerCase() !== 'z') return
  const at = event.target
  if (at instanceof HTMLTextAreaElement || (at instanceof HTMLInputElement && at.value !== '' && !at.readOnly)) return
  event.preventDefault()
  void undo()
})
useKeys([{ keys: ['?'], does: says('list'), run: () => (help.value = true) }])

// What the pages have to know of the job while the server is away: asked for at once, so that it is kept here.
const client = useQueryClient()
sendChoice(() => void client.invalidateQueries())
const rulebook = useQuery(rulebookQuery)
watch(
  () => rulebook.data.value?.shown,
  (shown) => (workshops.value = shown ?? {}),
  { immediate: true },
)
</script>

<template>
  <TopBar v-if="!$route.meta.bare" @help="help = true" />
  <OutboxStrip />
  <RouterView :key="pageKey" />
  <KeyHelp :open="help" @close="help = false" />
  <AskDialog />
  <DoorDialog />
</template>
