<script setup lang="ts">
import { RouterLink, useRouter } from 'vue-router'
import KeyCap from '@/components/KeyCap.vue'
import { useSheet } from '@/composables/useSheet'
import { longDate } from '@/composables/useFormat'
import DryStep from '@/sheet/DryStep.vue'
import HeadLine from '@/sheet/HeadLine.vue'

const props = defineProps<{ engine: string; session: string }>()
const router = useRouter()
const work = useSheet(props.engine, props.session)
const { sheet, query, outbox } = work

async function finish() {
  if (sheet.value?.session.open) await work.setHead({ ...sheet.value.session, open: false })
  await router.push(`/engines/${props.engine}`)
}
</script>

<template>
  <main v-if="sheet" class="mx-auto max-w-[1920px] px-4 sm:px-6">
    <header class="flex min-h-14 flex-wrap items-center gap-x-5 border-b border-rule py-1">
      <h1 class="text-lg font-semibold">
        <RouterLink :to="`/engines/${engine}`" class="inline-flex min-h-11 items-center"
          >{{ sheet.name }} · dry</RouterLink
        >
      </h1>
      <span class="text-soft max-sm:hidden">{{ longDate(sheet.session.date) }}</span>
      <p class="ml-auto text-soft" role="status" data-kept>
        <span v-if="outbox.waiting.value.length" class="font-semibold text-ink"
          >{{ outbox.waiting.value.length }} waiting to be sent ·
        </span>
        <span class="figures">{{ sheet.kept }}</span> {{ sheet.kept === 1 ? 'reading' : 'readings' }} kept
      </p>
      <button class="button-plain" @click="finish">
        {{ sheet.session.open ? 'Finish' : 'Close' }} <KeyCap class="max-sm:hidden">Esc</KeyCap>
      </button>
    </header>
    <HeadLine :sheet="sheet" @change="work.setHead" />
    <DryStep :work="work" @finish="finish" />
  </main>
  <main v-else-if="query.isError.value" class="p-6" role="alert">
    {{ query.error.value?.message }}. <RouterLink to="/" class="link">Back to the rack</RouterLink>
  </main>
</template>
