<script setup lang="ts">
import { ref } from 'vue'
import { tell } from '@/outbox/useOutbox'
import StrikeDialog from '@/components/StrikeDialog.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** Strikes what happened from where it stands, and counts it again. */
const props = defineProps<{ engine: string; entry: string; words: string; struck?: string }>()
const asking = ref(false)
function mark(kind: 'strike' | 'unstrike', why?: string) {
  asking.value = false
  void tell({ kind, engine: props.engine, body: { entry: props.entry, ...(why ? { why } : {}) } })
}
</script>

<template>
  <button v-if="entry" class="link min-h-11 justify-self-end print:hidden" @click="asking = true">
    {{ struck ? says('restore') : says('strike') }}<span class="sr-only"> {{ words }}</span>
  </button>
  <StrikeDialog
    :what="asking ? words : undefined"
    :struck="struck"
    @close="asking = false"
    @strike="(why) => mark('strike', why)"
    @unstrike="mark('unstrike')"
  />
</template>
