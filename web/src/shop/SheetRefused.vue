<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { refusedAsSheet, save, type Picks } from './form'
import { sayer } from '@/words/say'
import texts from '@/words/en/import.json'

const says = sayer(texts)

/** What can't be taken, and why: a cell is put right where it stands, and the sheet is read again. */
defineProps<{ refused: Schemas['Refused'][]; taken: boolean }>()
const picks = defineModel<Picks>({ required: true })

function mend(one: Schemas['Refused'], event: Event) {
  if (!one.cell) return
  const { row, column } = one.cell
  const sheet = one.n ?? 0
  const others = (picks.value.cells ?? []).filter(
    (c) => c.row !== row || c.column !== column || (c.sheet ?? 0) !== sheet,
  )
  picks.value = {
    ...picks.value,
    cells: [...others, { row, column, sheet, text: (event.target as HTMLInputElement).value }],
  }
}
</script>

<template>
  <section :aria-label="says('refused-why')">
    <h2 class="flex flex-wrap items-baseline border-b border-rule pb-1 font-semibold">
      {{ says('refused-why') }}
      <button class="link ml-auto font-normal" @click="save(refusedAsSheet(refused), 'not-taken.csv')">
        {{ says('save-these-rows-correct-them') }}
      </button>
    </h2>
    <ul>
      <li
        v-for="r in refused"
        :key="`${r.sheet}/${r.row}/${r.column}/${r.why}`"
        class="border-b border-track py-1.5"
        data-refused
      >
        <b
          ><template v-if="r.sheet">{{ r.sheet }}, </template
          ><template v-if="r.row">{{ says('row', { row: r.row }) }}</template
          ><template v-if="r.column">, {{ r.column }}</template></b
        >: {{ r.why }}.
        <label v-if="r.cell && !taken" class="mt-1 flex items-center gap-2">
          <span class="text-soft">{{ says('should-be') }}</span>
          <input class="field figures w-40" maxlength="200" :value="r.text" data-mend @change="mend(r, $event)" />
        </label>
        <span v-else-if="r.text" class="figures"> {{ r.text }}</span>
      </li>
    </ul>
  </section>
</template>
