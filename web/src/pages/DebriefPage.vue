<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import StateMark from '@/components/StateMark.vue'
import { lasted } from '@/practice/acts'
import { caseQuery, debriefQuery } from '@/practice/queries'
import StepList from '@/practice/StepList.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/debrief.json'

const says = sayer(texts)

const props = defineProps<{ engine: string }>()
const at = useQuery(caseQuery(props.engine))
const debrief = useQuery(debriefQuery(props.engine))
const d = computed(() => debrief.data.value)
const right = computed(() => [
  { words: says('what'), is: d.value?.kind_right },
  { words: says('where'), is: d.value?.where_right },
  { words: says('run-or-not'), is: d.value?.run_right },
])
const last = computed(() => d.value?.steps.findLast((s) => s.judged))
</script>

<template>
  <main v-if="d" class="mx-auto max-w-6xl px-4 pb-12 sm:px-6" data-debrief>
    <p class="mt-4 text-soft">
      <RouterLink to="/" class="link">{{ says('practice') }}</RouterLink>
      {{ says('debrief', { name: at.data.value?.name }) }}
    </p>
    <h1 class="mt-1 text-3xl leading-tight font-semibold" data-truth>{{ d.truth }}</h1>
    <p class="mt-2 text-xl">
      {{ says('you-said') }} <b data-decided>{{ d.decided }}</b>
    </p>
    <ul class="mt-3 flex flex-wrap gap-x-8 gap-y-1 text-lg" :aria-label="says('how-you-did')">
      <li v-for="r in right" :key="r.words" class="flex items-center gap-2">
        <span
          class="inline-flex size-6 items-center justify-center border-2"
          :class="r.is ? 'border-verdigris bg-verdigris text-on-verdigris' : 'border-ink'"
          aria-hidden="true"
          >{{ r.is ? '✓' : '×' }}</span
        >
        {{ r.words }}: <b>{{ r.is ? says('right') : says('wrong') }}</b>
      </li>
    </ul>
    <p v-if="d.risked" class="mt-4 border-l-4 border-stop pl-3 text-lg" data-risked>
      {{ d.runs ? says('what-cost') : says('what-was-risked') }}{{ d.risked }}
    </p>
    <p v-if="last" class="mt-4 text-lg">
      {{ says('your-readings-braxel-would-have') }} <StateMark v-if="last.state" :state="last.state" /> {{ last.says }}
    </p>
    <div class="mt-6 grid gap-x-12 gap-y-8 lg:grid-cols-2">
      <StepList
        :title="says('what-you-did', { minutes: lasted(d.minutes) })"
        :steps="d.steps"
        :empty="says('you-decided-without-single-reading')"
      />
      <StepList :title="says('short-way', { least_minutes: lasted(d.least_minutes) })" :steps="d.shortest" empty="" />
    </div>
    <p class="mt-6">
      <RouterLink to="/" class="button-main inline-flex min-h-12 items-center px-6">{{
        says('next-engine')
      }}</RouterLink>
    </p>
  </main>
  <main v-else-if="debrief.isError.value" class="p-6" role="alert">
    {{ debrief.error.value?.message }}. <RouterLink to="/" class="link">{{ says('back-practice') }}</RouterLink>
  </main>
</template>
