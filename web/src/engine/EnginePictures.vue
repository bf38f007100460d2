<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { longest } from '@/api/constants.gen'
import type { Schemas } from '@/api/client'
import { pictureAddress, small } from '@/composables/photo'
import { useDraft } from '@/composables/useDraft'
import { drop, tell, type Typed } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/engine.json'

const says = sayer(texts)

/** Pictures of the engine itself, of no test: its plates, its numbers, the whole of it. */
const props = defineProps<{ engine: string; notes: Schemas['Note'][] }>()
const client = useQueryClient()
const pictures = computed(() => props.notes.filter((n) => n.photo && !n.struck))
const note = ref('')
const draft = useDraft(
  `picture.${props.engine}`,
  () => note.value,
  (typed: string) => (note.value = typed),
)
draft.begin()
const word = ref('')

async function take(event: Event) {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  if (!file) return
  word.value = says('making-smaller')
  try {
    const body = { note: note.value.trim() || undefined }
    const { is, answer, entry } = await tell(
      { kind: 'photo', engine: props.engine, body } as Typed<'photo'>,
      await small(file),
    )
    word.value = is === 'refused' ? (answer?.why ?? says('not-saved')) : is === 'waiting' ? says('waiting-sent') : ''
    if (is === 'refused') await drop(entry.id)
    else {
      note.value = ''
      draft.done()
      draft.begin()
      await client.invalidateQueries({ queryKey: ['engine', props.engine] })
    }
  } catch {
    word.value = says('cant-read-picture')
  }
  field.value = ''
}
</script>

<template>
  <section :aria-label="says('pictures')" data-pictures>
    <ul v-if="pictures.length" class="flex flex-wrap gap-3">
      <li v-for="p in pictures" :key="p.key" class="w-40">
        <a :href="pictureAddress(engine, p.key ?? '')" target="_blank" rel="noopener"
          ><img :src="pictureAddress(engine, p.key ?? '')" :alt="p.text" class="h-28 w-40 object-cover" loading="lazy"
        /></a>
        <p class="text-[0.9rem]">{{ p.text }}</p>
      </li>
    </ul>
    <div class="mt-2 flex flex-wrap items-center gap-3 print:hidden">
      <input
        v-model="note"
        class="field w-64"
        :aria-label="says('what-it-shows')"
        :placeholder="says('what-it-shows')"
        :maxlength="longest.PhotoBody.note"
      />
      <label class="button-plain cursor-pointer"
        >{{ says('add-picture')
        }}<input type="file" accept="image/*" capture="environment" class="sr-only" @change="take"
      /></label>
      <span v-if="word" role="status">{{ word }}</span>
    </div>
  </section>
</template>
