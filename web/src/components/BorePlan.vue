<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas, State } from '@/api/client'
import { arc, labels, plan } from './plan'
import { filled, punches } from './state'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** One bore as it is shown: figures are ready-made text. */
export interface ShownBore {
  cylinder: number
  place?: string
  state?: State
  reading?: string
  change?: string
  leak?: number
  faces?: string[]
  done?: boolean
}

const props = defineProps<{
  layout: Schemas['Layout']
  bores: ShownBore[]
  current?: number
  gaskets?: [number, number][]
  mini?: boolean
  /** The engine that it is of, where several are on a page. */
  name?: string
  /** Its figures are to be read, and nothing is to be pressed. */
  still?: boolean
}>()
const emit = defineEmits<{ pick: [cylinder: number] }>()

/** A rotor in its housing: three faces, each bulging a little. */
const rotor = 'M0 -56Q50 -22 52 30Q0 58 -52 30Q-50 -22 0 -56Z'

const quiet = computed(() => props.mini || props.still)
const drawing = computed(() => plan(props.layout, props.gaskets ?? []))
const byCylinder = computed(() => new Map(props.bores.map((b) => [b.cylinder, b])))

function words(cylinder: number): string {
  const b = byCylinder.value.get(cylinder)
  return [
    says(props.layout.rotors ? 'rotor-n' : 'cylinder-n', { n: cylinder }),
    b?.place,
    b?.faces?.length && says('faces', { readings: b.faces.join(', ') }),
    b?.reading && says('reads', { reading: b.reading }),
    b?.change && says('changed', { change: b.change }),
    b?.leak !== undefined && says('leaks-percent', { leak: rounded(b.leak, 0) }),
    b?.state,
  ]
    .filter(Boolean)
    .join(', ')
}
</script>

<template>
  <svg
    :viewBox="`0 0 ${drawing.width} ${drawing.height}`"
    class="block w-full"
    :role="quiet ? 'img' : 'group'"
    :aria-label="
      still
        ? bores.map((b) => words(b.cylinder)).join('; ')
        : mini || drawing.hub
          ? name
            ? says('bore-plan-of', { name })
            : says('bore-plan')
          : says('bore-plan-front-at-left')
    "
  >
    <path v-for="(block, i) in drawing.blocks" :key="i" :d="block" class="fill-none stroke-rule" stroke-width="1.2" />
    <circle
      v-if="drawing.hub"
      :cx="drawing.width / 2"
      :cy="drawing.height / 2"
      :r="drawing.hub"
      class="fill-none stroke-rule"
      stroke-width="1.2"
    />
    <template v-if="!mini">
      <line
        v-if="drawing.axis"
        x1="60"
        :x2="drawing.width - 6"
        :y1="drawing.axis"
        :y2="drawing.axis"
        class="stroke-rule"
        stroke-dasharray="2 6"
        stroke-width="1.5"
      />
      <text v-if="drawing.front" x="2" :y="drawing.front" class="fill-soft text-[13px]">{{ says('front') }}</text>
    </template>
    <g v-for="g in drawing.gaskets" :key="g.x">
      <rect :x="g.x - 4.5" :y="g.y - 33" width="9" height="66" class="fill-act" />
      <line
        :x1="g.x"
        :x2="g.x"
        :y1="g.y - 30"
        :y2="g.y + 30"
        stroke="white"
        stroke-width="1.6"
        stroke-dasharray="5 4"
      />
    </g>
    <g
      v-for="b in drawing.bores"
      :key="b.cylinder"
      :transform="`translate(${b.x} ${b.y})`"
      :role="quiet ? undefined : 'button'"
      :tabindex="quiet ? undefined : 0"
      :aria-pressed="quiet ? undefined : current === b.cylinder"
      class="outline-none"
      :class="{
        'cursor-pointer [&:focus-visible>.ring]:stroke-verdigris [&:focus-visible>.ring]:[stroke-width:9]': !quiet,
      }"
      @click="!quiet && emit('pick', b.cylinder)"
      @keydown.enter.prevent="!quiet && emit('pick', b.cylinder)"
      @keydown.space.prevent="!quiet && emit('pick', b.cylinder)"
    >
      <title v-if="!quiet">{{ words(b.cylinder) }}</title>
      <circle r="50" class="ring fill-none stroke-track" stroke-width="8" />
      <path
        v-if="byCylinder.get(b.cylinder)?.leak"
        :d="arc(byCylinder.get(b.cylinder)!.leak!)"
        class="fill-none"
        :class="filled(byCylinder.get(b.cylinder)?.state ?? 'steady') ? 'stroke-act' : 'stroke-steady'"
        stroke-width="8"
      />
      <component
        :is="layout.rotors ? 'path' : 'circle'"
        r="46"
        :d="layout.rotors ? rotor : undefined"
        stroke-width="1.4"
        :class="{
          'fill-sheet stroke-ink': !filled(byCylinder.get(b.cylinder)?.state ?? 'steady'),
          'fill-watch stroke-watch': byCylinder.get(b.cylinder)?.state === 'watch',
          'fill-act stroke-act': byCylinder.get(b.cylinder)?.state === 'act',
          'fill-stop stroke-stop': byCylinder.get(b.cylinder)?.state === 'stop',
        }"
      />
      <component
        :is="layout.rotors ? 'path' : 'circle'"
        v-if="current === b.cylinder"
        r="54"
        :d="layout.rotors ? rotor : undefined"
        class="fill-none stroke-verdigris"
        stroke-width="4"
      />
      <circle
        v-if="byCylinder.get(b.cylinder)?.state === 'retest'"
        cy="-30"
        r="5"
        class="fill-none stroke-ink"
        stroke-width="2"
      />
      <circle
        v-for="n in punches[byCylinder.get(b.cylinder)?.state ?? 'steady']"
        :key="n"
        cy="-31"
        :cx="(n - (punches[byCylinder.get(b.cylinder)!.state!] + 1) / 2) * 11"
        r="3.4"
        fill="white"
      />
      <template v-if="!mini">
        <text
          :x="labels(drawing, b).number.x"
          :y="labels(drawing, b).number.y"
          text-anchor="middle"
          class="fill-ink text-[18px] font-semibold"
        >
          {{ b.cylinder }}
        </text>
        <g
          text-anchor="middle"
          :class="filled(byCylinder.get(b.cylinder)?.state ?? 'steady') ? 'fill-white' : 'fill-ink'"
        >
          <text y="9" class="figures text-[28px] font-semibold">{{ byCylinder.get(b.cylinder)?.reading }}</text>
          <text :y="layout.rotors ? 23 : 29" class="figures" :class="layout.rotors ? 'text-[12px]' : 'text-[14px]'">
            {{ byCylinder.get(b.cylinder)?.change }}
          </text>
          <text v-if="byCylinder.get(b.cylinder)?.faces" y="36" class="figures text-[11px]">
            {{ byCylinder.get(b.cylinder)?.faces?.join(' ') }}
          </text>
        </g>
        <text
          v-if="byCylinder.get(b.cylinder)?.leak !== undefined"
          :x="labels(drawing, b).leak.x"
          :y="labels(drawing, b).leak.y"
          text-anchor="middle"
          class="figures fill-soft text-[14px]"
        >
          {{ rounded(byCylinder.get(b.cylinder)!.leak!, 0) }}%
        </text>
      </template>
      <text v-else-if="byCylinder.get(b.cylinder)?.reading" y="15" text-anchor="middle" class="figures text-[40px]">
        {{ byCylinder.get(b.cylinder)?.reading }}
      </text>
    </g>
  </svg>
</template>
