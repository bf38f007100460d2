<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Refused } from '@/api/client'
import { longest } from '@/api/constants.gen'
import { rackQuery } from '@/api/queries'
import type { Schemas } from '@/api/client'
import { useHandIn } from '@/composables/useHandIn'
import { drop, tell, tellAll, type Typed } from '@/outbox/useOutbox'
import LabelledField from './LabelledField.vue'
import PanelDialog from './PanelDialog.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** A test that was of another engine or build is moved there whole; one that is worth nothing is discarded. Either is one step to undo. */
const props = defineProps<{ open: boolean; engine: string; test: string; builds: Schemas['Build'][] }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const rack = useQuery(rackQuery)
const to = ref(props.engine)
const build = ref('')
const why = ref('')
const fault = ref('')
watch(
  () => props.open,
  () => {
    to.value = props.engine
    build.value = why.value = fault.value = ''
  },
)
const others = computed(() =>
  [...(rack.data.value?.engines ?? [])].sort((a, b) => (a.id === props.engine ? -1 : a.name.localeCompare(b.name))),
)

/** Asks what it takes, and hands all of it in as one act. */
const { handIn: move } = useHandIn(async (_, done) => {
  fault.value = ''
  const there = to.value // closing clears it
  try {
    const { steps } = await ask(
      api.GET('/api/engines/{engine}/sessions/{session}/moving', {
        params: { path: { engine: props.engine, session: props.test }, query: { to: there, build: build.value } },
      }),
    )
    if (await enter(steps as unknown as Typed[])) {
      done()
      const whole = steps.find((s) => s.kind === 'whole')?.body as { id: string } | undefined
      void router.push(whole ? `/engines/${there}/tests/${whole.id}/findings` : `/engines/${props.engine}`)
    }
  } catch (e) {
    fault.value = e instanceof Refused ? e.message : says('cant-reach-braxel-try-again')
  }
})
const { handIn: discard } = useHandIn(async (_, done) => {
  fault.value = ''
  try {
    const page = await ask(api.GET('/api/engines/{engine}', { params: { path: { engine: props.engine } } }))
    const entry = page.behind[`test ${props.test}`]
    if (!entry || !why.value.trim()) return (fault.value = says('say-why'))
    const strike = { kind: 'strike', engine: props.engine, body: { entry, why: why.value.trim() } }
    if (await enter([strike as Typed])) {
      done()
      void router.push(`/engines/${props.engine}`)
    }
  } catch (e) {
    fault.value = e instanceof Refused ? e.message : says('cant-reach-braxel-try-again')
  }
})
/** Hands all of it in. What was typed once is not asked about again; where a part is refused, the rest is taken back. */
async function enter(steps: Typed[]) {
  const came = await tellAll(steps.map((s) => ({ ...s, sure: true }) as Typed))
  const refused = came.filter((o) => o.is === 'refused')
  for (const o of refused) await drop(o.entry.id)
  fault.value = refused[0]?.answer?.why ?? ''
  if (!refused.length) return (emit('close'), true)
  for (const { is, entry } of came)
    if (is !== 'refused')
      await tell({ kind: 'strike', engine: entry.engine, body: { entry: entry.id, why: says('not-moved') } } as Typed)
  return false
}
</script>

<template>
  <PanelDialog :open="open" data-move @close="$emit('close')">
    <DialogTitle class="text-xl font-semibold">{{ says('move-or-discard') }}</DialogTitle>
    <form class="mt-3 grid gap-3" @submit.prevent="move">
      <LabelledField :label="says('it-was-of-engine')">
        <select v-model="to" class="field" @change="build = ''">
          <option v-for="e in others" :key="e.id" :value="e.id">{{ e.name }}</option>
        </select>
      </LabelledField>
      <LabelledField v-if="to === engine && builds.length > 1" :label="says('it-was-of-build')">
        <select v-model="build" class="field">
          <option value=""></option>
          <option v-for="b in builds" :key="b.id" :value="b.id">{{ b.what || b.id }}</option>
        </select>
      </LabelledField>
      <button class="button-main" :disabled="to === engine && !build" data-do>{{ says('move-test') }}</button>
    </form>
    <form class="mt-5 grid gap-3 border-t border-rule pt-4" @submit.prevent="discard">
      <LabelledField :label="says('or-discard-why')">
        <input v-model="why" class="field" :maxlength="longest.MarkBody.why" autocomplete="off" />
      </LabelledField>
      <button class="button-plain" data-discard>{{ says('discard-test') }}</button>
      <p class="text-[0.95rem] text-soft">{{ says('stays-in-history') }}</p>
    </form>
    <p v-if="fault" role="alert" class="mt-3 font-semibold" data-fault>{{ fault }}</p>
    <button class="button-plain mt-4 w-full" @click="$emit('close')">{{ says('cancel') }}</button>
  </PanelDialog>
</template>
