<script setup lang="ts">
import { useIntervalFn, useWakeLock } from '@vueuse/core'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, type Schemas } from '@/api/client'
import TurnDrawing from '@/components/TurnDrawing.vue'
import { usePageTitle } from '@/composables/usePageTitle'
import { useTheme } from '@/composables/usePreferences'
import { useKeys } from '@/composables/useKeys'
import { say, sound, useSound } from '@/composables/useSound'
import { hearing } from '@/outbox/news'
import { onNews } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/seat.json'

const says = sayer(texts)

type Seat = Schemas['Seat']

/** The helper's screen: what the sheet wants now, in a word that is read from two metres. */
const props = defineProps<{ engine?: string }>()
const seats = ref<(Seat & { since: number })[]>([])
const now = ref(performance.now())
useIntervalFn(() => (now.value = performance.now()), 100)
const { isSupported, request } = useWakeLock()
if (isSupported.value) void request('screen').catch(() => undefined)
const { on: loud, toggle } = useSound()
const { theme, toggle: turnTheme } = useTheme()

function take(told: Seat[]) {
  const here = told.map((s) => ({ ...s, since: performance.now() - s.for_ms }))
  const kept = seats.value.filter((s) => !here.some((h) => h.engine === s.engine))
  seats.value = [...here, ...kept].sort((a, b) => b.since - a.since)
}
async function askAll() {
  const { data } = await api.GET('/api/seats').catch(() => ({ data: undefined }))
  if (data) take(data)
}
void askAll()
const stop = onNews((news) => {
  if (news.seats) take(news.seats)
  if (news.all) void askAll()
})
onScopeDispose(stop)

// Once an engine is followed, another sheet does not take its place: a helper must not crank the wrong one.
const followed = ref(props.engine || undefined)
watch(
  () => seats.value[0]?.engine,
  (first) => (followed.value ??= first),
)
const seat = computed(() => seats.value.find((s) => s.engine === followed.value))
/** Sheets that lie open since long are not being worked on. */
const recent = 30 * 60_000
const others = computed(() => seats.value.filter((s) => s.engine !== followed.value && now.value - s.since < recent))

const elapsed = computed(() => (seat.value ? Math.max(0, now.value - seat.value.since) / 1000 : 0))
/** Nobody cranks on without the sheet's word, nor longer than the starter stands. */
const over = computed(() => {
  const most = seat.value?.seconds ?? seat.value?.most_s ?? 0
  return seat.value?.do === 'crank' && (elapsed.value >= most || !hearing.value)
})
const doing = computed(() => (over.value ? 'stop' : (seat.value?.do ?? 'wait')))
const words: Record<Seat['do'], string> = {
  wait: 'WAIT',
  crank: 'CRANK',
  stop: 'STOP',
  turn: 'TURN',
  hold: 'HOLD',
  done: 'DONE',
}
const rest = computed(() => Math.ceil(Math.max(0, (seat.value?.rest_s ?? 0) - elapsed.value)))
const count = computed(() => Math.floor(elapsed.value))
const line = computed(() => {
  if (!hearing.value) return says('nothing-from-sheet')
  if (over.value) return says('let-go')
  if (doing.value !== 'crank') return seat.value?.line ?? ''
  return [seat.value?.seconds && says('seconds', { seconds: seat.value.seconds }), seat.value?.line]
    .filter(Boolean)
    .join(' · ')
})
watch(doing, (to) => {
  sound(to === 'stop' ? 'end' : to === 'crank' ? 'start' : 'kept')
  say(words[to].toLowerCase())
})
watch(count, () => doing.value === 'crank' && sound('second'))

usePageTitle(() => [seat.value?.name, says('seat-2')])
useKeys([{ keys: ['m'], does: says('sound'), run: toggle }])
</script>

<template>
  <main
    class="flex min-h-dvh flex-col px-5 py-4"
    :class="doing === 'crank' || doing === 'hold' ? 'bg-ink text-paper' : ''"
    :data-do="doing"
  >
    <header class="flex flex-wrap items-center gap-x-4 text-xl">
      <h1 class="min-w-0 truncate">
        {{ seat ? seat.name : says('helpers-screen')
        }}<template v-if="seat?.cylinder">
          {{ says('cylinder') }} <span class="figures">{{ seat.cylinder }}</span></template
        >
      </h1>
      <span class="ml-auto flex">
        <button class="min-h-11 px-2" :aria-pressed="loud" @click="toggle">
          {{ loud ? says('sound-on') : says('sound-off') }}
        </button>
        <button class="min-h-11 px-2" @click="turnTheme">{{ theme === 'dark' ? says('day') : says('night') }}</button>
      </span>
    </header>
    <section v-if="seat" class="flex grow flex-col items-center justify-center text-center" aria-live="assertive">
      <p class="text-[min(33vw,30vh)] leading-[0.95] font-semibold" data-word>{{ words[doing] }}</p>
      <p v-if="doing === 'crank'" class="figures text-[min(30vw,22vh)] leading-none font-semibold" data-count>
        {{ count }}
      </p>
      <TurnDrawing
        v-if="doing === 'turn' && seat.turn_deg"
        :deg="seat.turn_deg"
        :rotation="seat.rotation ?? 'clockwise'"
        class="my-2 w-[min(52vw,30vh)]"
      />
      <p class="mt-3 max-w-3xl text-[clamp(1.2rem,min(6.4vw,7vh),3rem)] leading-tight font-medium" data-line>
        {{ line }}
      </p>
      <p v-if="rest > 0 && doing !== 'crank'" class="mt-2 text-[clamp(1.2rem,min(6.4vw,7vh),3rem)]" data-rest>
        {{ says('starter-resting') }} <b class="figures">{{ rest }} s</b>
      </p>
    </section>
    <section v-else class="flex grow flex-col items-center justify-center text-center text-2xl">
      <p>{{ says('open-engines-run-sheet-other') }}</p>
      <RouterLink to="/" class="link mt-4 flex min-h-11 items-center">{{ says('rack') }}</RouterLink>
    </section>
    <footer class="flex min-h-8 flex-wrap justify-center gap-x-6 text-lg">
      <span v-if="seat?.foot">{{ seat.foot }}</span>
      <button
        v-for="o in others"
        :key="o.engine"
        class="min-h-11 underline underline-offset-3"
        @click="followed = o.engine"
      >
        {{ says('follow', { name: o.name }) }}
      </button>
    </footer>
  </main>
</template>
