<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, ask, Refused, type Schemas } from '@/api/client'
import SaidAround from '@/components/SaidAround.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** Gauges that call from this machine without the passcode: somebody who sees one lets it in, once. */
defineProps<{ asking: Schemas['Caller'][] }>()
const client = useQueryClient()
const fault = ref('')
async function answer(id: number, yes: boolean) {
  fault.value = ''
  try {
    await ask(api.POST('/api/gauge/answer', { body: { id, yes } }))
  } catch (error) {
    fault.value = error instanceof Refused ? error.message : says('cant-reach-braxel-try-again-2')
  }
  await client.invalidateQueries({ queryKey: ['gauge'] })
}
</script>

<template>
  <div v-for="g in asking" :key="g.id" class="border-l-4 border-watch pl-3 text-lg" role="alert" data-asking>
    <SaidAround :parts="says.around('gauge-wants-connect', 'name', { from: g.from })"
      ><b>{{ g.name }}</b></SaidAround
    >
    <span class="flex flex-wrap gap-3 py-1">
      <button class="button-main" @click="answer(g.id, true)">{{ says('connect') }}</button>
      <button class="button-plain" @click="answer(g.id, false)">{{ says('refuse') }}</button>
    </span>
  </div>
  <p v-if="fault" role="alert" class="font-semibold">{{ fault }}</p>
</template>
