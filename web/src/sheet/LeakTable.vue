<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { asRead } from '@/composables/figure'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

defineProps<{ cells: Schemas['LeakCell'][]; unit: string; current: number; waiting: (cylinder: number) => boolean }>()
defineEmits<{ pick: [cylinder: number]; reading: [attempt: Schemas['Attempt'], cylinder: number] }>()
</script>

<template>
  <table class="w-full">
    <thead class="text-left text-[0.85rem] text-soft">
      <tr class="border-b border-rule">
        <th class="py-1 font-normal">{{ says('firing-order') }}</th>
        <th class="text-right font-normal">{{ says('in-unit', { what: says('in'), unit }) }}</th>
        <th class="text-right font-normal">{{ says('held-3') }}</th>
        <th class="text-right font-normal">{{ says('leak') }}</th>
        <th class="pl-4 font-normal">{{ says('heard-at') }}</th>
      </tr>
    </thead>
    <tbody
      v-for="c in cells"
      :key="c.cylinder"
      class="cursor-pointer border-b border-track"
      :class="{ 'bg-verdigris-pale': c.cylinder === current }"
      :data-cylinder="c.cylinder"
      @click="$emit('pick', c.cylinder)"
    >
      <tr
        v-for="(a, i) in c.attempts.length ? c.attempts : [undefined]"
        :key="i"
        :class="{ 'text-soft line-through': a?.struck }"
        :title="a?.struck"
      >
        <th scope="row" class="figures py-1.5 pl-2 text-left text-lg font-semibold">
          {{ i === 0 ? c.cylinder : ''
          }}<span v-if="i === 0 && c.name" class="ml-1 text-[0.85rem] font-normal text-soft">{{ c.name }}</span>
        </th>
        <template v-if="a">
          <td class="figures text-right">{{ asRead(a.supply, a.unit, unit) }}</td>
          <td class="figures text-right">{{ rounded(a.held, Number.isInteger(a.held) ? 0 : 1) }}</td>
          <td class="figures text-right font-semibold">
            <button
              class="min-h-9 px-1 hover:bg-verdigris-pale"
              :class="{ 'line-through': a.struck }"
              :aria-label="
                says('marks-leak', {
                  leak: rounded(a.leak_pct, 1),
                  cylinder: c.cylinder,
                  struck: a.struck ? says('struck') : '',
                })
              "
              @click.stop="$emit('reading', a, c.cylinder)"
            >
              {{ rounded(a.leak_pct, 1) }}
            </button>
          </td>
          <td class="pl-4 text-[0.95rem]">{{ a.heard }}</td>
        </template>
        <td v-else colspan="4" class="text-right text-soft">{{ waiting(c.cylinder) ? says('waiting-sent-2') : '' }}</td>
      </tr>
    </tbody>
  </table>
</template>
