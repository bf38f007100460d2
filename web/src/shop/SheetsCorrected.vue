<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import { tell, type Typed } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/import.json'

const says = sayer(texts)

/** What was corrected in earlier sheets, and is read so since: shown, and forgotten when somebody says so. */
const client = useQueryClient()
const { data } = useQuery({ queryKey: ['corrected'], queryFn: () => ask(api.GET('/api/import/corrected')) })

async function forget(id: string) {
  await tell({ kind: 'columns', body: { id, columns: null } } as unknown as Typed<'columns'>)
  await client.invalidateQueries({ queryKey: ['corrected'] })
}
</script>

<template>
  <section v-if="data?.length" :aria-label="says('read-as-corrected-before')">
    <h2 class="border-b border-rule pb-1 font-semibold">{{ says('read-as-corrected-before') }}</h2>
    <ul>
      <li
        v-for="c in data"
        :key="c.id"
        class="flex flex-wrap items-baseline gap-x-4 border-b border-track py-1"
        data-corrected
      >
        <span class="min-w-0 break-words">{{ says('sheets-headed', { headings: c.headings }) }}</span>
        <button class="link ml-auto min-h-11" @click="forget(c.id)">{{ says('forget') }}</button>
      </li>
    </ul>
  </section>
</template>
