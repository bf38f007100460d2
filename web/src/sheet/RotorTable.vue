<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { asRead } from '@/composables/figure'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

type Pull = Schemas['Pull']

/** All rotors of a test, face by face: as read, and as the maker gives it. */
const props = defineProps<{ rotors: Schemas['RotorCell'][]; unit: string; current: number; still?: boolean }>()
defineEmits<{ pick: [rotor: number]; reading: [pull: Pull, rotor: number, face: number] }>()
const corrected = computed(() => props.rotors.some((r) => r.faces.some((f) => f.nominal)))
</script>

<template>
  <table class="w-full border-collapse">
    <thead class="text-left text-[0.85rem] text-soft">
      <tr class="border-b border-rule">
        <th class="py-1 font-normal" scope="col">{{ says('rotor') }}</th>
        <th v-for="n in 3" :key="n" class="text-right font-normal" scope="col">{{ says('face-4', { n, unit }) }}</th>
      </tr>
    </thead>
    <tbody v-for="r in rotors" :key="r.rotor" :data-rotor="r.rotor">
      <tr
        :class="{ 'bg-verdigris-pale': r.rotor === current, 'cursor-pointer': !still }"
        :aria-current="r.rotor === current"
        @click="$emit('pick', r.rotor)"
      >
        <th class="figures py-1.5 pl-2 text-left text-lg font-semibold" scope="row">
          {{ r.rotor }}<span v-if="r.name" class="ml-1 text-[0.85rem] font-normal text-soft">{{ r.name }}</span>
        </th>
        <td v-for="f in r.faces" :key="f.face" class="figures text-right text-lg">
          <button
            v-for="p in f.pulls"
            :key="p.key"
            :disabled="still"
            class="min-h-9 px-1 hover:bg-verdigris-pale"
            :class="p.struck ? 'text-soft' : 'font-semibold'"
            :title="p.struck"
            :aria-label="
              says('marks-face', {
                value: asRead(p.value, p.unit, unit),
                rotor: r.rotor,
                face: f.face,
                struck: p.struck ? says('struck') : '',
              })
            "
            @click.stop="$emit('reading', p, r.rotor, f.face)"
          >
            <s v-if="p.struck">{{ asRead(p.value, p.unit, unit) }}</s><template v-else>{{
              asRead(p.value, p.unit, unit)
            }}</template>
          </button>
        </td>
      </tr>
      <tr v-if="corrected && r.settled" class="text-soft">
        <th class="pl-2 text-left text-[0.85rem] font-normal" scope="row">{{ says('at-250-rpm-sea-level') }}</th>
        <td
          v-for="f in r.faces"
          :key="f.face"
          class="figures text-right"
          :class="f.below ? 'font-semibold text-ink underline decoration-2' : ''"
          data-nominal
        >
          {{ f.nominal?.value }}
        </td>
      </tr>
      <tr class="border-b border-track">
        <td colspan="4" class="pb-2 pl-2">
          <p v-if="r.says" :data-says="r.rotor">{{ r.says }}.</p>
          <p v-if="r.rpm && r.settled" class="text-[0.85rem] text-soft">
            {{ says('cranked-at-rpm-2', { rpm: rounded(r.rpm, 0) })
            }}<template v-if="r.factor && r.factor !== 1">{{
              says('times', {
                factor: rounded(r.factor, 2),
                table: r.estimated ? says('braxels-estimate-no-makers-table') : says('makers-table'),
              })
            }}</template>
          </p>
        </td>
      </tr>
    </tbody>
  </table>
</template>
