<script setup lang="ts">
import { ref } from 'vue'
import { longDate, signed } from '@/composables/useFormat'
import { placeOfAir, type Point, type Visit } from './strips'
import { rounded, sayer, written } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** The figures of the strips as a table: for who cannot see the drawing, and to be copied. */
defineProps<{
  strips: { cylinder: number; called: string; points: Point[] }[]
  visits: Visit[]
  shown: number[]
  unit: string
}>()
const open = ref(false)

function cell(points: Point[], visit: number): string[] {
  const p = points.find((p) => p.visit === visit)
  if (!p) return []
  return [
    p.reading ?? '',
    p.baseline ? says('baseline') : p.change_pct === undefined ? '' : `${signed(p.change_pct)} %`,
    p.leak_pct === undefined ? '' : says('leak', { leak: rounded(p.leak_pct, 1) }),
    placeOfAir(p) ?? '',
    p.faint ? (p.state === 'retest' ? says('retest') : says('struck-2')) : '',
  ].filter(Boolean)
}
</script>

<template>
  <details class="print:hidden" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary class="flex min-h-11 items-center text-[0.95rem] text-soft">{{ says('as-figures') }}</summary>
    <div v-if="open" class="relative overflow-x-auto" tabindex="0" role="group" :aria-label="says('as-figures')">
      <table class="text-[0.9rem]">
        <thead>
          <tr class="border-b border-rule text-left align-bottom">
            <th class="py-1 pr-4">{{ says('test') }}</th>
            <th class="pr-4">{{ unit }}</th>
            <th v-for="s in strips" :key="s.cylinder" class="pr-4">{{ s.cylinder ? s.called : says('all-2') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="i in shown" :key="i" class="border-b border-track align-top">
            <th class="py-1 pr-4 text-left font-normal whitespace-nowrap">{{ longDate(visits[i]!.date) }}</th>
            <td class="figures pr-4">{{ written(visits[i]!.meter) }}</td>
            <td v-for="s in strips" :key="s.cylinder" class="figures pr-4 whitespace-nowrap">
              <span v-for="line in cell(s.points, i)" :key="line" class="block">{{ line }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </details>
</template>
