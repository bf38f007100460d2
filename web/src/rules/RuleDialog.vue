<script setup lang="ts">
import { longest } from '@/api/constants.gen'
import { DialogTitle } from '@headlessui/vue'
import { useQueryClient } from '@tanstack/vue-query'
import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, ask, faultOf, Refused, type Problem, type Schemas } from '@/api/client'
import FigureField from '@/components/FigureField.vue'
import LabelledField from '@/components/LabelledField.vue'
import PanelDialog from '@/components/PanelDialog.vue'
import { shownIn, unitFor } from '@/composables/shown'
import { useHandIn } from '@/composables/useHandIn'
import { problemOf } from '@/composables/useSheet'
import { latest } from '@/composables/latest'
import { drop, tell, type Typed } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/rules.json'

const says = sayer(texts)

/** One rule, changed to the workshop's own: the figure, the reason, and what it would have changed on tests that are past. */
const { rule } = defineProps<{ rule?: Schemas['RuleLine'] }>()
const emit = defineEmits<{ close: [kept?: string] }>()
const client = useQueryClient()
const value = ref<number>()
const why = ref('')
const problem = ref<Problem>()
watch(
  () => rule,
  (r) => {
    value.value = r?.value
    why.value = r?.our_why ?? ''
    problem.value = undefined
    past.value = undefined
  },
)

const fits = computed(
  () => !!rule && value.value !== undefined && value.value >= rule.minimum && value.value <= rule.maximum,
)
const outside = computed(() =>
  rule && value.value !== undefined && !Number.isNaN(value.value) && !fits.value
    ? says('must-be-between', {
        minimum: shownIn(rule.minimum, rule.unit),
        maximum: shownIn(rule.maximum, rule.unit),
        unit: unitFor(rule.unit),
      })
    : undefined,
)

const past = ref<Schemas['HindsightResult']>()
const looking = ref(false)
const away = ref(false)
const look = latest(
  async (id: string, at: number) => {
    looking.value = true
    try {
      away.value = false
      return await ask(api.GET('/api/hindsight', { params: { query: { id, value: at } } }))
    } catch (error) {
      // What is refused is said at its field; silence is Braxel being away.
      problem.value = error instanceof Refused ? error.problem : undefined
      away.value = !problem.value
      return undefined
    }
  },
  (came) => {
    past.value = came
    looking.value = false
  },
)
watchDebounced(
  [() => rule?.id, value],
  () => {
    problem.value = undefined
    if (rule && fits.value && value.value !== rule.value) void look(rule.id, value.value!)
    else past.value = undefined
  },
  { debounce: 300 },
)

const { handIn: keep } = useHandIn(async (name, done) => {
  const r = rule!
  if (!fits.value) return // its field says so
  const outcome = await tell({
    id: name,
    kind: 'rule',
    body: { id: r.id, value: value.value, why: why.value.trim(), ...(r.counted ? { counted: 0 } : {}) },
    ...(r.begun ? { was: { value: r.value, why: r.our_why ?? null } } : {}),
  } as Typed<'rule'>)
  if (outcome.is === 'refused') {
    await drop(outcome.entry.id)
    problem.value = problemOf(outcome)
    return
  }
  done()
  await client.invalidateQueries()
  emit('close', outcome.is === 'waiting' ? says('waiting-sent') : says('saved-every-engine-judged-from'))
})
function builtIn() {
  value.value = rule!.built_in
  why.value = ''
}
</script>

<template>
  <PanelDialog :open="!!rule" data-rule-dialog @close="emit('close')">
    <form v-if="rule" novalidate @submit.prevent="keep">
      <DialogTitle class="text-xl font-semibold first-letter:uppercase">{{ rule.of }}: {{ rule.words }}</DialogTitle>
      <p class="mt-1 text-soft">
        {{ says('built-2') }} <b class="figures text-ink">{{ shownIn(rule.built_in, rule.unit) }}</b>
        {{ unitFor(rule.unit) }}.
        {{ rule.why }}
      </p>
      <FigureField
        v-model="value"
        class="mt-3"
        :label="says('your-figure')"
        :unit="rule.unit"
        :fault="outside ?? (faultOf(problem, 'why') ? undefined : (problem?.errors?.[0]?.message ?? problem?.detail))"
      />
      <LabelledField :label="says('why-you-differ')" class="mt-3" :fault="faultOf(problem, 'why')">
        <textarea v-model="why" class="field min-h-20" :maxlength="longest.Own.why" />
      </LabelledField>
      <div class="mt-3 min-h-28" aria-live="polite">
        <template v-if="looking">
          <p class="text-soft">{{ says('looking-at-your-past-tests') }}</p>
          <progress class="mt-2 h-2 w-full accent-verdigris" :aria-label="says('looking-at-your-past-tests-2')" />
        </template>
        <p v-else-if="away" class="border-l-4 border-watch pl-3">
          {{ says('cant-reach-braxel-so-what') }}
        </p>
        <p v-else-if="past" class="border-l-4 border-verdigris pl-3 text-lg" data-past>{{ past.sentence }}</p>
        <p v-else class="text-soft">{{ says('type-another-value-see-what') }}</p>
      </div>
      <div class="mt-3 flex flex-wrap gap-3">
        <button class="button-main grow" :disabled="!fits">{{ says('save') }}</button>
        <button v-if="rule.own" type="button" class="button-plain" @click="builtIn">
          {{ says('use-built-value') }}
        </button>
        <button type="button" class="button-plain" @click="emit('close')">{{ says('cancel') }}</button>
      </div>
    </form>
  </PanelDialog>
</template>
