<script setup lang="ts">
import { practice } from '@/api/base'
import MoveTest from '@/components/MoveTest.vue'
import { usePageTitle } from '@/composables/usePageTitle'
import { useWakeLock } from '@vueuse/core'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { longDate } from '@/composables/useFormat'
import { today } from '@/api/clock'
import { useSound } from '@/composables/useSound'
import { useSheet } from '@/composables/useSheet'
import { useUndo } from '@/outbox/useUndo'
import { useKeys } from '@/composables/useKeys'
import FindingsStep from '@/sheet/FindingsStep.vue'
import LeakStep from '@/sheet/LeakStep.vue'
import PracticeBar from '@/practice/PracticeBar.vue'
import LookStep from '@/sheet/LookStep.vue'
import PrepareStep from '@/sheet/PrepareStep.vue'
import PullStep from '@/sheet/PullStep.vue'
import PutBackStep from '@/sheet/PutBackStep.vue'
import RotorStep from '@/sheet/RotorStep.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

const props = defineProps<{ engine: string; session: string; step?: string }>()
const router = useRouter()
const work = useSheet(props.engine, props.session)
const { sheet, query } = work
const { undo } = useUndo()
// A hand that is greasy cannot wake the screen.
const { isSupported, request } = useWakeLock()
if (isSupported.value) void request('screen').catch(() => undefined)

const rotary = computed(() => sheet.value?.engine.kind === 'rotary')
const shown = computed(() => (sheet.value?.steps ?? []).filter((s) => !practice || s.practice))
const steps = computed(() => shown.value.map((s): string => s.id))
const here = computed(
  () =>
    props.step || (sheet.value && sheet.value.kept === 0 && sheet.value.session.open && !practice ? 'prepare' : 'dry'),
)
// An address of a step that this kind of engine has not leads to its readings.
watch([steps, here], ([all, step]) => {
  if (all.includes('dry') && !all.includes(step)) void go('dry')
})
const names = computed(() => Object.fromEntries(shown.value.map((s) => [s.id, s.name])) as Record<string, string>)

/** Steps that have all they asked for are ruled in ink. */
const whole = computed<Record<string, boolean | undefined>>(() => {
  const s = sheet.value
  if (!s) return {}
  const ticked = (list: { id: string }[]) => list.length > 0 && list.every((t) => s.session.ticks?.includes(t.id))
  return {
    prepare: ticked(s.before),
    dry: s.prompt.cylinder === 0,
    wet: s.wet_prompt.cylinder === 0 && s.wet.some((c) => c.settled),
    'leak-down': s.leak_prompt.cylinder === 0,
    look: s.session.observations?.some((o) => !o.struck) ?? false,
    'put-back': ticked(s.after),
  }
})

// On a phone the steps are wider than the screen: the one in front stays in sight.
const steer = useTemplateRef<HTMLElement>('steer')
watch(
  [here, steer],
  () => steer.value?.querySelector('[aria-current=step]')?.scrollIntoView({ inline: 'center', block: 'nearest' }),
  { flush: 'post' },
)

usePageTitle(() => [sheet.value?.name, names.value[here.value]?.toLowerCase()])
const at = (step: string) => `/engines/${props.engine}/tests/${props.session}/${step}`
const go = (step: string) => router.replace(at(step))
function turn(by: number) {
  const next = steps.value[steps.value.indexOf(here.value) + by]
  if (next) void go(next)
}

/** What comes after a step: a wet test and a leak-down only where they are asked for. */
function onward() {
  const s = sheet.value!
  if (here.value === 'dry' && steps.value.includes('wet') && !s.wet.some((c) => c.asked))
    return go(s.leak_asked ? 'leak-down' : 'look')
  if (here.value === 'wet' && !s.leak_asked) return go('look')
  turn(1)
}

async function finish(baseline?: boolean) {
  if (sheet.value?.session.open) await work.patch({ open: false, ...(baseline === false ? { baseline } : {}) })
  await router.push(`/engines/${props.engine}`)
}
/** The page of the engine; of one that is practised on, the course. */
const home = computed(() => (practice ? '/' : `/engines/${props.engine}`))
const leave = () => router.push(home.value)

const moving = ref(false)
const { on: loud, toggle: turnSound } = useSound()
const reopen = () => work.patch({ open: true, reopened: today() })

useKeys([
  { keys: ['m'], does: says('sound-tones-and-the-next-step-spoken'), run: turnSound },
  { keys: ['PageDown'], does: says('next-step'), run: () => turn(1) },
  { keys: ['PageUp'], does: says('previous-step'), run: () => turn(-1) },
])
</script>

<template>
  <main v-if="sheet" class="mx-auto max-w-[1920px] px-4 sm:px-6">
    <header class="flex min-h-14 flex-wrap items-center gap-x-5 pt-1">
      <h1 class="min-w-0 max-w-full text-lg font-semibold max-sm:max-w-[36%] max-[20rem]:max-w-full">
        <RouterLink :to="home" class="flex min-h-11 items-center whitespace-nowrap" :title="sheet.name"
          ><span class="min-w-0 truncate">{{ sheet.name }}</span
          ><span class="whitespace-pre max-sm:sr-only"> · {{ names[here]?.toLowerCase() }}</span></RouterLink
        >
      </h1>
      <nav
        ref="steer"
        :aria-label="says('steps-test')"
        class="order-last flex grow overflow-x-auto [scrollbar-width:none] max-lg:basis-full lg:order-none"
      >
        <RouterLink
          v-for="s in steps"
          :key="s"
          :to="at(s)"
          replace
          :aria-current="s === here ? 'step' : undefined"
          class="mr-1.5 flex min-h-11 min-w-20 grow items-center border-b-3 px-1 whitespace-nowrap"
          :class="
            s === here ? 'border-verdigris font-semibold' : whole[s] ? 'border-ink text-soft' : 'border-track text-soft'
          "
          >{{ names[s] }}</RouterLink
        >
      </nav>
      <div class="ml-auto text-soft max-[20rem]:hidden" data-kept>
        <span role="status">
          <span v-if="work.waitingCount.value" class="font-semibold text-ink"
            >{{ says('waiting-sent', { work: work.waitingCount.value }) }}
          </span>
          <span data-kept>{{ says('saved', { n: sheet.kept }) }}</span>
        </span>
        <RouterLink
          :to="`/engines/${engine}/record?test=${encodeURIComponent(session)}`"
          class="link ml-2 max-sm:hidden"
          >{{ says('history') }}</RouterLink
        >
        <RouterLink :to="`/seat/${engine}`" class="link ml-3 max-sm:hidden" target="_blank">{{
          says('seat')
        }}</RouterLink>
        <button class="link ml-3 min-h-11" :aria-pressed="loud" @click="turnSound">
          {{ says('sound')
          }}<span :class="{ 'max-sm:sr-only': !loud }">{{ loud ? says('sound-on') : says('sound-off') }}</span>
        </button>
        <button class="link ml-3 min-h-11" @click="undo">{{ says('undo') }}</button>
      </div>
    </header>
    <MoveTest :open="moving" :engine="engine" :test="session" :builds="sheet.builds" @close="moving = false" />
    <p v-if="!sheet.session.open" class="mt-2 border-l-4 border-watch pl-3" data-finished>
      {{ says('test-finished-readings-can-still') }}
      <button class="link min-h-11" @click="reopen">{{ says('reopen') }}</button>.
    </p>
    <p v-else-if="sheet.session.reopened" class="mt-2 border-l-4 border-rule pl-3 text-soft" data-reopened>
      {{ says('finished-before-reopened', { reopened: longDate(sheet.session.reopened) }) }}
    </p>
    <PracticeBar v-if="practice" :work="work" :step="here" />
    <PrepareStep v-if="here === 'prepare'" :work="work" @done="onward" @leave="leave" />
    <RotorStep v-else-if="here === 'dry' && rotary" :work="work" @done="onward" @leave="leave" />
    <PullStep v-else-if="here === 'dry'" key="dry" :work="work" mode="dry" @done="onward" @leave="leave" />
    <PullStep v-else-if="here === 'wet'" key="wet" :work="work" mode="wet" @done="onward" @leave="leave" />
    <LeakStep v-else-if="here === 'leak-down'" :work="work" @done="onward" @leave="leave" />
    <LookStep v-else-if="here === 'look'" :work="work" @done="onward" @leave="leave" />
    <FindingsStep v-else-if="here === 'findings'" :work="work" @done="onward" @leave="leave" />
    <PutBackStep v-else :work="work" @done="finish" @leave="leave" />
    <p v-if="!practice && !['dry', 'wet', 'leak-down'].includes(here)" class="pb-6 print:hidden">
      <button class="link min-h-11" data-move-test @click="moving = true">{{ says('move-or-discard') }}</button>
    </p>
  </main>
  <main v-else-if="query.isError.value" class="p-6" role="alert">
    {{ query.error.value?.message }}. <RouterLink to="/" class="link">{{ says('back-rack') }}</RouterLink>
  </main>
</template>
