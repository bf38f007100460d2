<script setup lang="ts">
import { longest, words } from '@/api/constants.gen'
import { useQuery } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { faultOf, type Problem, type Schemas } from '@/api/client'
import { protocolsQuery } from '@/api/queries'
import FigureField from '@/components/FigureField.vue'
import LabelledField from '@/components/LabelledField.vue'
import { useHandIn } from '@/composables/useHandIn'
import { useKeys } from '@/composables/useKeys'
import { problemOf } from '@/composables/useSheet'
import { seen } from '@/outbox/change'
import { drop, tell, type Typed } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/protocols.json'

const says = sayer(texts)

type Protocol = Schemas['Protocol']
const protocols = useQuery(protocolsQuery)
const form = ref<Protocol>()
const problem = ref<Problem>()
const kept = ref('')
const open = (p: Protocol) => ((form.value = { ...p, cranking: { ...p.cranking } }), (kept.value = ''))
watch(
  () => protocols.data.value,
  (all) => all?.[0] && !form.value && open(all[0]),
  { immediate: true },
)

const { handIn: save } = useHandIn(async (name, done) => {
  const p = form.value!
  const figures = [p.cranking.count, p.cranking.seconds, p.leak_watch_pct, p.leak_act_pct]
  if (figures.some((v) => Number.isNaN(v))) return // its field says so
  const id = p.id || `ours-${name.slice(0, 5)}`
  const have = protocols.data.value?.find((x) => x.id === id)
  kept.value = ''
  const outcome = await tell({
    id: name,
    kind: 'protocol',
    body: { ...p, id },
    was: have && seen({ ...have }, p),
  } as Typed<'protocol'>)
  if (outcome.is === 'refused') {
    await drop(outcome.entry.id)
    problem.value = problemOf(outcome)
    return
  }
  problem.value = undefined
  p.id = id
  kept.value = outcome.is === 'waiting' ? says('waiting-sent') : 'Kept.'
  done()
})
const copy = () => form.value && Object.assign(form.value, { id: '', name: says('ours', { name: form.value.name }) })
const schools = {
  '10': says('within-10-highest'),
  '5': says('within-5-highest'),
  '15': says('within-15-highest'),
  '25': says('within-25-highest'),
  '7psi': says('7-psi-apart'),
  '10psi': says('10-psi-apart'),
  '50psi': says('50-psi-apart'),
}
const whens = { never: says('never'), asked: says('where-dry-readings-call-for'), always: says('every-time') }
useKeys([{ keys: ['Enter'], does: says('field-save-protocol') }])
</script>

<template>
  <main class="mx-auto max-w-[1200px] px-4 py-5 sm:px-6">
    <h1 class="text-3xl font-semibold">{{ says('protocols') }}</h1>
    <p class="text-soft">{{ says('how-engines-tested-engine-keeps') }}</p>
    <div class="mt-4 grid gap-8 md:grid-cols-[16rem_1fr]">
      <nav :aria-label="says('protocols')" class="grid content-start">
        <button
          v-for="p in protocols.data.value"
          :key="p.id"
          class="min-h-11 px-2 text-left"
          :class="p.id === form?.id ? 'bg-verdigris-pale font-semibold' : ''"
          :aria-pressed="p.id === form?.id"
          @click="open(p)"
        >
          {{ p.name }}
        </button>
      </nav>
      <form v-if="form" class="grid gap-3 sm:grid-cols-2" novalidate @submit.prevent="save">
        <LabelledField :label="says('name')" class="sm:col-span-2" :fault="faultOf(problem, 'name')"
          ><input v-model="form.name" class="field text-xl" :maxlength="longest.Protocol.name"
        /></LabelledField>
        <LabelledField :label="says('stop-cranking')">
          <select v-model="form.cranking.rule" class="field">
            <option value="plateau">{{ says('when-needle-stops-rising') }}</option>
            <option value="count">{{ says('after-set-number-compressions') }}</option>
            <option value="time">{{ says('after-set-time') }}</option>
          </select>
        </LabelledField>
        <FigureField
          v-if="form.cranking.rule === 'count'"
          v-model="form.cranking.count"
          :label="says('compressions')"
          :fault="faultOf(problem, 'cranking.count')"
        />
        <FigureField
          v-else-if="form.cranking.rule === 'time'"
          v-model="form.cranking.seconds"
          :label="says('seconds')"
          :fault="faultOf(problem, 'cranking.seconds')"
        />
        <LabelledField :label="says('readings')">
          <select v-model="form.pulls" class="field">
            <option value="agree">{{ says('until-two-row-agree') }}</option>
            <option value="three">{{ says('three-averaged') }}</option>
            <option value="one">{{ says('one') }}</option>
          </select>
        </LabelledField>
        <LabelledField :label="says('plugs-out')">
          <select v-model="form.plugs_out" class="field">
            <option value="all">{{ says('all-together') }}</option>
            <option value="one">{{ says('one-at-time') }}</option>
          </select>
        </LabelledField>
        <LabelledField :label="says('engine')">
          <select v-model="form.temp" class="field">
            <option v-for="t in words.Protocol.temp" :key="t">{{ t }}</option>
          </select>
        </LabelledField>
        <LabelledField :label="says('evenness')">
          <select v-model="form.evenness" class="field">
            <option v-for="(w, id) in schools" :key="id" :value="id">{{ w }}</option>
          </select>
        </LabelledField>
        <LabelledField :label="says('wet-test')">
          <select v-model="form.wet" class="field">
            <option v-for="(w, id) in whens" :key="id" :value="id">{{ w }}</option>
          </select>
        </LabelledField>
        <LabelledField :label="says('leak-down')">
          <select v-model="form.leakdown" class="field">
            <option v-for="(w, id) in whens" :key="id" :value="id">{{ w }}</option>
          </select>
        </LabelledField>
        <FigureField
          v-model="form.leak_watch_pct"
          :label="says('leak-watch-from')"
          :fault="faultOf(problem, 'leak_watch_pct')"
        />
        <FigureField
          v-model="form.leak_act_pct"
          :label="says('leak-act-from')"
          :fault="faultOf(problem, 'leak_act_pct')"
        />
        <div class="flex flex-wrap items-center gap-3 sm:col-span-2">
          <button class="button-main">{{ says('save-protocol') }}</button>
          <button type="button" class="button-plain" @click="copy">{{ says('copy-new-one') }}</button>
          <span role="status">{{ kept || (problem?.errors ? '' : problem?.detail) }}</span>
        </div>
      </form>
    </div>
  </main>
</template>
