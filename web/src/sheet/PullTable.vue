<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { asRead } from '@/composables/figure'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

type Pull = Schemas['pull_entry']

defineProps<{ cells: Schemas['Cell'][]; unit: string; current: number; waiting: (cylinder: number) => Pull[] }>()
defineEmits<{ pick: [cylinder: number]; reading: [pull: Schemas['Cell']['pulls'][number], cylinder: number] }>()
/** A doubt has one figure that tells. */
const roughly = (doubt: number) => Number(doubt.toPrecision(1))
</script>

<template>
  <table class="w-full border-collapse">
    <thead class="text-left text-[0.85rem] text-soft">
      <tr class="border-b border-rule">
        <th class="py-1 font-normal" scope="col">{{ says('cylinder') }}</th>
        <th class="font-normal" scope="col">{{ says('readings', { unit }) }}</th>
        <th class="text-right font-normal" scope="col">{{ says('reads') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="c in cells"
        :key="c.cylinder"
        class="cursor-pointer border-b border-track"
        :class="{ 'bg-verdigris-pale': c.cylinder === current }"
        :aria-current="c.cylinder === current"
        :data-cylinder="c.cylinder"
        @click="$emit('pick', c.cylinder)"
      >
        <th class="figures w-16 py-1.5 pl-2 text-left text-lg font-semibold" scope="row">
          {{ c.cylinder }}<span v-if="c.name" class="ml-1 text-[0.85rem] font-normal text-soft">{{ c.name }}</span>
        </th>
        <td class="figures">
          <template v-for="p in c.pulls" :key="p.key">
            <button
              class="mr-1 min-h-9 px-1 hover:bg-verdigris-pale"
              :class="{ 'text-soft': p.struck || p.doubt }"
              :title="p.struck || p.doubt"
              :aria-label="
                says('marks-reading', {
                  value: asRead(p.value, p.unit, unit),
                  doubt: p.doubt && !p.struck ? says('as-read') : '',
                  cylinder: c.cylinder,
                  struck: p.struck ? says('struck') : '',
                })
              "
              @click.stop="$emit('reading', p, c.cylinder)"
            >
              <s v-if="p.struck">{{ asRead(p.value, p.unit, unit) }}</s>
              <template v-else
                >{{ asRead(p.value, p.unit, unit) }}<template v-if="p.doubt"> {{ says('as-read') }}</template></template
              >
            </button>
            <small v-if="p.camera_sd && !p.struck" class="mr-2 text-soft" :title="p.note"
              >±{{ roughly(p.camera_sd) }}</small
            >
          </template>
          <span
            v-for="e in waiting(c.cylinder)"
            :key="e.id"
            class="mr-3 text-soft italic"
            :title="says('waiting-sent-4')"
            >{{ asRead(e.body.value ?? '', e.body.unit, unit) }}…</span
          >
        </td>
        <td class="figures pr-2 text-right text-lg" :class="c.settled ? 'font-semibold' : 'text-soft'">
          {{ c.reading?.value }}<span v-if="c.reading && !c.settled" :title="says('not-settled-repeat')">?</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>
