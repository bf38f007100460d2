<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import { startTest } from '@/composables/startTest'
import { longDate } from '@/composables/useFormat'
import { sayer } from '@/words/say'
import texts from '@/words/en/season.json'
import { did } from './useSeason'
import { useTold } from './useTold'
import { percent } from './words'

const says = sayer(texts)

/** The next event: who runs in what, whether it lasts, and what has to be done before it. */
defineProps<{ next: Schemas['SeasonNextMeeting']; today: string }>()
defineEmits<{ open: [engine: string] }>()
const { problem, told } = useTold()
const router = useRouter()
const client = useQueryClient()
</script>

<template>
  <section data-next>
    <h2 class="text-2xl leading-tight font-semibold">{{ next.meeting.name }}</h2>
    <p class="text-lg text-soft">{{ longDate(next.meeting.date) }}, {{ next.words }}</p>
    <ul class="mt-2">
      <li v-for="s in next.starts" :key="s.car" class="border-b border-track py-2">
        <button
          v-if="s.engine_id"
          class="flex min-h-11 w-full items-center gap-3 text-left"
          @click="$emit('open', s.engine_id)"
        >
          <span
            class="figures min-w-16 px-2 py-1 text-center text-xl font-semibold"
            :class="`level-${s.level ?? 'none'}`"
            >{{ s.level ? `${percent(s.chance ?? 0)}%` : '?' }}</span
          >
          <span
            ><b class="text-lg font-semibold">{{ s.engine }}</b> {{ says('in-car', { car: s.car }) }}
            <span class="block text-[0.95rem] text-soft">{{ s.words }}</span></span
          >
        </button>
        <p v-else>
          <b class="font-semibold">{{ s.car }}</b>: {{ s.words }}
        </p>
      </li>
    </ul>
    <template v-if="next.todo.length">
      <h3 class="mt-4 border-b border-rule pb-1 font-semibold">{{ says('before-it') }}</h3>
      <ul data-todo>
        <li
          v-for="t in next.todo"
          :key="t.meeting + t.what"
          class="flex items-center gap-3 border-b border-track py-1.5"
        >
          <span class="grow"
            ><b class="font-semibold">{{ t.what }}</b>
            <span class="block text-[0.95rem]">{{ t.when }}</span>
            <span class="block text-[0.95rem] text-soft">{{ t.why }}</span></span
          >
          <button v-if="t.work === 'test'" class="link min-h-11" @click="startTest(router, client, t.engine)">
            {{ says('test-now') }}<span class="sr-only">: {{ t.name }}</span>
          </button>
          <button v-else-if="t.work" class="link min-h-11 whitespace-nowrap" data-did @click="told(did(t, today))">
            {{ says('is-done') }}<span class="sr-only">: {{ t.what }}</span>
          </button>
        </li>
      </ul>
    </template>
    <p v-else class="mt-3">{{ says('nothing-before-it') }}</p>
    <p v-if="problem" role="alert" class="font-semibold">{{ problem.detail }}</p>
  </section>
</template>

<style scoped>
.level-fine {
  background: var(--verdigris-pale);
}
.level-near {
  background: var(--steady);
  color: #17242b;
}
.level-over {
  background: var(--watch);
  color: #fff;
}
.level-far {
  background: var(--act);
  color: #fff;
}
</style>
