<script setup lang="ts">
import { usePageTitle } from '@/composables/usePageTitle'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { wheelQuery } from '@/api/queries'
import CrankWheel from '@/components/CrankWheel.vue'
import KeyCap from '@/components/KeyCap.vue'
import { useKeys } from '@/composables/useKeys'
import SaidAround from '@/components/SaidAround.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/wheel.json'

const says = sayer(texts)

const props = defineProps<{ engine: string }>()
const router = useRouter()
const query = useQuery(wheelQuery(props.engine))
const wheel = computed(() => query.data.value)
const step = ref(0)
const go = (by: number) => (step.value = (step.value + by + wheel.value!.steps.length) % wheel.value!.steps.length)
/** A two-stroke, or a cylinder alone, has none on overlap. */
const overlaps = computed(() => wheel.value?.steps.some((s) => s.companions?.length))
const print = () => window.print()

usePageTitle(() => [wheel.value?.name, says('crank-wheel')])
useKeys([
  { keys: ['ArrowRight', ' '], does: says('turn-next-cylinder'), run: () => wheel.value && go(1) },
  { keys: ['ArrowLeft'], does: says('previous-cylinder'), run: () => wheel.value && go(-1) },
  { keys: ['p'], does: says('print-for-garage'), run: print },
  { keys: ['Escape'], does: says('back-engine'), run: () => router.push(`/engines/${props.engine}`) },
])
</script>

<template>
  <main v-if="wheel" class="mx-auto max-w-[1300px] px-4 py-5 sm:px-6">
    <header class="flex flex-wrap items-center gap-x-5 gap-y-2">
      <h1 class="text-2xl font-semibold">
        <RouterLink :to="`/engines/${engine}`">{{ wheel.name }}</RouterLink> {{ says('crank-wheel-2') }}
      </h1>
      <span class="text-soft">{{
        says('firing-turns-seen-from-pulley', {
          about: wheel.about,
          uneven: wheel.even ? says('even') : says('uneven'),
          rotation: wheel.rotation,
        })
      }}</span>
      <button class="button-plain ml-auto print:hidden" @click="print">{{ says('print') }} <KeyCap>p</KeyCap></button>
    </header>
    <div class="mt-4 grid gap-8 md:grid-cols-2">
      <CrankWheel :wheel="wheel" :step="step" class="mx-auto max-w-[34rem]" />
      <div>
        <p class="text-2xl leading-snug font-medium" aria-live="polite" data-say>{{ wheel.says[step] }}</p>
        <div class="mt-4 flex gap-3 print:hidden">
          <button class="button-plain" @click="go(-1)">{{ says('back') }} <KeyCap>←</KeyCap></button>
          <button class="button-main min-h-14 grow text-xl" @click="go(1)">
            {{ says('next-cylinder') }} <KeyCap>→</KeyCap>
          </button>
        </div>
        <table class="mt-5 w-full">
          <thead class="text-left text-[0.9rem] text-soft">
            <tr class="border-b border-rule">
              <th class="py-1 font-normal">{{ says('cylinder') }}</th>
              <th class="font-normal">{{ says('turn') }}</th>
              <th class="font-normal">{{ says('mark-at') }}</th>
              <th v-if="overlaps" class="font-normal">{{ says('overlap') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="(s, i) in wheel.steps"
              :key="s.cylinder"
              class="cursor-pointer border-b border-track"
              :class="{ 'bg-verdigris-pale': i === step }"
              @click="step = i"
            >
              <th scope="row" class="figures py-1.5 pl-2 text-left text-xl font-semibold">{{ s.cylinder }}</th>
              <td class="figures">{{ s.turn_deg ? `${s.turn_deg}°` : says('begin') }}</td>
              <td class="figures">{{ s.crank_deg }}°</td>
              <td v-if="overlaps" class="figures">{{ s.companions?.join(', ') || '–' }}</td>
            </tr>
          </tbody>
        </table>
        <p class="mt-4">
          <SaidAround :parts="says.around('paint-marks-pulley-at', 'marks', { check: wheel.check })"
            ><span class="figures">{{ wheel.marks.map((m) => `${m.deg}°`).join(', ') }}</span></SaidAround
          >
        </p>
        <p v-if="wheel.push" class="mt-2 border-l-4 border-watch pl-3">
          {{ says('take-every-tool-off-crank', { turn: wheel.push }) }}
        </p>
      </div>
    </div>
  </main>
  <main v-else-if="query.isError.value" class="p-6" role="alert">
    {{ query.error.value?.message }}
    <RouterLink :to="`/engines/${engine}`" class="link">{{ says('back-engine-2') }}</RouterLink>
  </main>
</template>
