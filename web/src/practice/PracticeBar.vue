<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Refused } from '@/api/client'
import KeyCap from '@/components/KeyCap.vue'
import PanelDialog from '@/components/PanelDialog.vue'
import { useKeys } from '@/composables/useKeys'
import type { Work } from '@/composables/useSheet'
import { acts, lasted, places, type Act } from './acts'
import DecideDialog from './DecideDialog.vue'
import { hear } from './noise'
import { caseQuery } from './queries'
import { sayer } from '@/words/say'
import texts from '@/words/en/practice.json'

const says = sayer(texts)

/** What is done to a practice engine beside its readings, and the clock on the wall. */
const props = defineProps<{ work: Work; step: string }>()
const router = useRouter()
const client = useQueryClient()
const at = useQuery(caseQuery(props.work.engine))
const sheet = props.work.sheet
// A reading takes its minutes, too.
watch(
  () => sheet.value?.kept,
  () => void at.refetch(),
)

const said = ref<Act>()
const fault = ref('')
const acting = ref(false)
const deciding = ref(false)
/** The cylinder that the sheet is at, unless another is named. */
const here = computed(() => {
  const s = sheet.value
  if (!s) return 1
  const asked = props.step === 'leak-down' ? s.leak_prompt.cylinder : s.prompt.cylinder
  return asked || s.cells[0]?.cylinder || 1
})
const chosen = ref<number>()
const cylinder = computed(() => chosen.value ?? here.value)

async function act(what: Act['what'], where?: Act['where']) {
  fault.value = ''
  acting.value = false
  const one = acts.find((a) => a.what === what)?.one || what === 'listen'
  try {
    const done = await ask(
      api.POST('/api/practice/{engine}/do', {
        params: { path: { engine: props.work.engine } },
        body: { what, where, ...(one ? { cylinder: cylinder.value } : {}) },
      }),
    )
    said.value = done
    if (what === 'listen') hear(where ?? '', done.level ?? 0)
    if (done.look) {
      const { what: kind, cylinder: of, finding } = done.look
      await props.work.enterAll('look', [{ what: kind, finding, ...(of ? { cylinder: of } : {}) }])
    }
    void client.invalidateQueries({ queryKey: ['practice', props.work.engine] })
    if (done.test !== props.work.session) await router.push(`/engines/${props.work.engine}/tests/${done.test}/dry`)
    else void client.invalidateQueries({ queryKey: ['sheet', props.work.engine] })
  } catch (e) {
    fault.value = e instanceof Refused ? e.message : says('cant-reach-braxel-so-nothing')
  }
  chosen.value = undefined
}

const list = ref<HTMLElement>()
function open() {
  if (at.data.value?.decided) return
  acting.value = true
  void nextTick(() => list.value?.querySelector('button')?.focus())
}
/** The list is gone through with the arrows. */
function along(event: KeyboardEvent) {
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key]
  if (!by) return
  event.preventDefault()
  const all = [...(list.value?.querySelectorAll('button') ?? [])]
  const now = all.indexOf(document.activeElement as HTMLButtonElement)
  all[(now + by + all.length) % all.length]?.focus()
}

useKeys([
  { keys: ['a'], does: says('what-else-you-can-do'), run: open },
  { keys: ['d'], does: says('decide-2'), run: () => (deciding.value = !at.data.value?.decided) },
  {
    keys: places.map((p) => p.key),
    does: says('listen-at-oil-filler-intake'),
    run: (e) => void act('listen', places.find((p) => p.key === e.key)!.where),
  },
])
</script>

<template>
  <section
    v-if="at.data.value"
    :aria-label="says('practice')"
    class="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule bg-verdigris-pale px-3 py-1"
    data-practice
  >
    <p class="flex min-w-0 flex-wrap gap-x-2">
      <b>{{ says('practice-2') }}</b>
      <span v-if="step !== 'leak-down'" class="max-sm:hidden">{{ at.data.value.says }}</span>
      <b class="figures" data-minutes>{{ lasted(at.data.value.minutes) }}</b>
    </p>
    <div
      v-if="step === 'leak-down'"
      class="flex flex-wrap items-center gap-1"
      role="group"
      :aria-label="says('listen-at')"
    >
      <span class="text-soft">{{ says('listen-at-2') }}</span>
      <button
        v-for="p in places"
        :key="p.where"
        class="min-h-11 border border-rule bg-sheet px-2"
        :aria-keyshortcuts="`Shift+${p.key}`"
        :data-listen="p.where"
        @click="act('listen', p.where)"
      >
        {{ p.words }}
      </button>
    </div>
    <div class="ml-auto flex gap-2">
      <RouterLink v-if="at.data.value.decided" :to="`/engines/${work.engine}/debrief`" class="button-main">{{
        says('debrief')
      }}</RouterLink>
      <template v-else>
        <button class="button-plain min-h-11" data-act @click="open">
          {{ says('at-engine') }} <KeyCap class="max-sm:hidden">a</KeyCap>
        </button>
        <button class="button-plain min-h-11" data-decide @click="deciding = true">
          {{ says('decide') }} <KeyCap class="max-sm:hidden">d</KeyCap>
        </button>
      </template>
    </div>
    <p class="basis-full text-lg font-semibold empty:hidden" role="status" data-said>{{ fault || said?.says }}</p>
    <PanelDialog :open="acting" @close="acting = false">
      <DialogTitle class="text-2xl font-semibold">{{ says('at-engine') }}</DialogTitle>
      <label class="mt-2 flex items-center gap-3"
        >{{ says('cylinder') }}
        <select
          :value="cylinder"
          class="field w-auto"
          data-of
          @change="chosen = Number(($event.target as HTMLSelectElement).value)"
        >
          <option v-for="c in at.data.value.cylinders" :key="c" :value="c">{{ c }}</option>
        </select></label
      >
      <div ref="list" class="mt-2 grid" @keydown="along">
        <button
          v-for="a in acts"
          :key="a.what"
          class="flex min-h-11 items-center justify-between gap-4 border-b border-rule px-1 text-left"
          :data-do="a.what"
          @click="act(a.what)"
        >
          <span
            >{{ a.words }}<template v-if="a.one">, {{ cylinder }}</template></span
          >
          <span class="figures shrink-0 text-soft">{{ says('min', { what: at.data.value.costs[a.what] }) }}</span>
        </button>
      </div>
      <button class="button-plain mt-4 min-h-11" @click="acting = false">{{ says('leave') }}</button>
    </PanelDialog>
    <DecideDialog :open="deciding" :at="at.data.value" @close="deciding = false" />
  </section>
</template>
