<script setup lang="ts">
import { longest } from '@/api/constants.gen'
import { DialogTitle } from '@headlessui/vue'
import { ref } from 'vue'
import KeyCap from '@/components/KeyCap.vue'
import PanelDialog from '@/components/PanelDialog.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

const props = defineProps<{ what?: string; struck?: string; others?: number[] }>()
const emit = defineEmits<{ close: []; strike: [why: string]; unstrike: []; move: [cylinder: number] }>()
const reasons = [
  says('throttle-not-held-open'),
  says('gauge-leaked-at-seal'),
  says('battery-sagged'),
  says('wrong-cylinder'),
  'mistyped',
  says('something-else-2'),
]
const other = ref('')

function press(event: KeyboardEvent) {
  const why = reasons[Number(event.key) - 1]
  if (!why || props.struck || event.target instanceof HTMLInputElement) return
  event.preventDefault() // or the digit lands in the reading's field
  emit('strike', why)
}
</script>

<template>
  <PanelDialog :open="what !== undefined" @close="$emit('close')" @keydown="press">
    <template v-if="struck">
      <DialogTitle class="text-lg font-semibold">{{ says('struck-2', { what, struck }) }}</DialogTitle>
      <button class="button-main mt-3 w-full" @click="$emit('unstrike')">{{ says('restore-2') }}</button>
    </template>
    <template v-if="others?.length && !struck">
      <DialogTitle as="p" class="text-lg font-semibold">{{ what }}</DialogTitle>
      <p class="mt-1 text-soft">{{ says('was-cylinder') }}</p>
      <div class="mt-1 mb-4 flex flex-wrap gap-2" data-move>
        <button
          v-for="c in others"
          :key="c"
          class="figures min-h-11 min-w-11 border border-rule text-lg hover:bg-verdigris-pale"
          :aria-label="says('move-to', { cylinder: c })"
          @click="$emit('move', c)"
        >
          {{ c }}
        </button>
      </div>
    </template>
    <component :is="others ? 'p' : DialogTitle" v-if="!struck" class="text-lg font-semibold">
      {{ says('strike-why', { what }) }}
    </component>
    <p v-if="!struck" class="text-soft">{{ says('stays-history-doesnt-count') }}</p>
    <ul v-if="!struck" class="mt-3 grid gap-2">
      <li v-for="(why, i) in reasons" :key="why">
        <button
          class="flex min-h-11 w-full items-center gap-3 border border-rule px-3 text-left hover:bg-verdigris-pale"
          @click="$emit('strike', why)"
        >
          <KeyCap>{{ i + 1 }}</KeyCap>{{ why }}
        </button>
      </li>
    </ul>
    <form v-if="!struck" class="mt-3 flex gap-2" @submit.prevent="other.trim() && $emit('strike', other.trim())">
      <input
        v-model="other"
        class="field"
        :aria-label="says('another-reason')"
        :placeholder="says('your-words-2')"
        :maxlength="longest.MarkBody.why"
      />
      <button class="button-plain">{{ says('strike') }}</button>
    </form>
  </PanelDialog>
</template>
