<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { meanings, type Picks } from './form'
import { sayer } from '@/words/say'
import texts from '@/words/en/import.json'

const says = sayer(texts)

/** The first rows of a sheet, each column under what it was taken for, to be corrected by picking. */
const props = defineProps<{ sheet: Schemas['SheetShown']; means: Schemas['SheetRead']['means']; n: number }>()
const picks = defineModel<Picks>({ required: true })

type Column = Schemas['Column']
const kinds = ['dry', 'wet', 'leak'] as const

function correct(column: Column, by: Partial<Column>) {
  const others = (picks.value.columns ?? []).filter((c) => c.index !== column.index || (c.sheet ?? 0) !== props.n)
  const { index, header, means, cylinder, kind, unit, percent } = column
  picks.value = {
    ...picks.value,
    columns: [...others, { sheet: props.n, index, header, means, cylinder, kind, unit, percent, ...by }],
  }
}
const widest = () => Math.max(props.sheet.guess.columns.length, ...props.sheet.rows.map((r) => r.cells.length))
const named = () => props.sheet.guess.columns.some((c) => c.means === 'cylinder')
const text = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
</script>

<template>
  <div class="overflow-x-auto" tabindex="0" :aria-label="says('first-rows')">
    <table class="min-w-full text-left" data-guess>
      <thead v-if="!sheet.guess.turned">
        <tr class="align-top">
          <th class="w-8">
            <span class="sr-only">{{ says('row-2') }}</span>
          </th>
          <th v-for="c in sheet.guess.columns" :key="c.index" class="min-w-28 py-1 pr-3 font-normal">
            <select
              class="field w-full"
              :aria-label="says('what', { heading: c.header || says('column', { column: c.index + 1 }) })"
              :value="c.means"
              @change="correct(c, { means: text($event) as Column['means'] })"
            >
              <option v-for="m in means" :key="m" :value="m">{{ meanings[m as Column['means']] }}</option>
            </select>
            <span v-if="c.means === 'reading'" class="mt-1 flex gap-1">
              <select
                class="field min-w-16 grow"
                :aria-label="says('kind', { header: c.header })"
                :value="c.kind ?? ''"
                @change="correct(c, { kind: (text($event) || undefined) as Column['kind'] })"
              >
                <option value="">{{ says('as-says') }}</option>
                <option v-for="k in kinds" :key="k">{{ k }}</option>
              </select>
              <input
                v-if="!named()"
                class="field figures w-14"
                maxlength="12"
                :aria-label="says('cylinder', { header: c.header })"
                :value="c.cylinder"
                @change="correct(c, { cylinder: text($event) })"
              />
            </span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in sheet.rows" :key="r.n" class="border-t border-track">
          <td class="figures pr-2 text-right text-[0.85rem] text-soft">{{ r.n }}</td>
          <td
            v-for="i in widest()"
            :key="i"
            class="max-w-56 truncate py-1 pr-3"
            :class="{
              'font-semibold': sheet.guess.headers.includes(r.n) && !sheet.guess.turned,
              'text-soft line-through': sheet.guess.columns[i - 1]?.means === 'skip' && !sheet.guess.turned,
            }"
          >
            {{ r.cells[i - 1] }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
