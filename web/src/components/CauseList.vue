<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { chance } from '@/composables/useFormat'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

defineProps<{ causes: Schemas['Weighed'][]; next?: Schemas['Next'] }>()
defineEmits<{ next: [] }>()
const join = (n: number[]) => (n.length > 1 ? says('and', { n: n.slice(0, -1).join(', '), n2: n.at(-1) }) : n.join(''))
</script>

<template>
  <section :aria-label="says('why-what-would-settle')">
    <h2 class="border-b border-rule pb-1 text-[0.95rem] font-semibold">{{ says('why-what-would-settle') }}</h2>
    <dl>
      <div
        v-for="c in causes.filter((x, i) => i < 4 && x.probability >= 0.015)"
        :key="c.cause"
        class="grid grid-cols-[1fr_8rem] items-baseline gap-x-3 border-b border-track py-1.5"
      >
        <dt class="font-semibold">
          {{ c.words }}<template v-if="c.cylinders.length">, {{ join(c.cylinders) }}</template>
        </dt>
        <dd class="flex items-center gap-2">
          <span class="h-2 bg-ink" :style="{ width: `${Math.max(c.probability * 64, 1)}px` }" aria-hidden="true" />
          <span class="figures text-[0.9rem]">{{ chance(c.probability) }} %</span>
        </dd>
        <dd class="col-span-2 text-[0.92rem] text-soft">
          <template v-if="c.for.length">{{ c.for.join(', ') }}</template><template
            v-if="c.for.length && c.against.length"
            >; </template
          ><template v-if="c.against.length">{{ says('against', { evidence: c.against.join(', ') }) }}</template>
        </dd>
      </div>
    </dl>
    <p v-if="next" class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1">
      <span class="font-semibold text-verdigris">{{ says('next') }}</span>
      <span class="grow"
        >{{ next.words }}<template v-if="next.cylinders.length"> ({{ join(next.cylinders) }})</template>.
        <span class="text-soft">{{ next.why }}.</span></span
      >
      <button class="button-plain" @click="$emit('next')">{{ says('do') }}</button>
    </p>
  </section>
</template>
