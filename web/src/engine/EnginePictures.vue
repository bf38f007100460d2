<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { longest } from '@/api/constants.gen'
import type { Schemas } from '@/api/client'
import { pictureAddress, usePicture } from '@/composables/photo'
import { useDraft } from '@/composables/useDraft'
import { tell, type Typed } from '@/outbox/useOutbox'
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
const { word, take } = usePicture(
  (picture) =>
    tell(
      { kind: 'photo', engine: props.engine, body: { note: note.value.trim() || undefined } } as Typed<'photo'>,
      picture,
    ),
  async () => {
    note.value = ''
    draft.done()
    draft.begin()
    await client.invalidateQueries({ queryKey: ['engine', props.engine] })
  },
)
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
