<script setup lang="ts">
import type { Schemas } from '@/api/client'
import SaidAround from '@/components/SaidAround.vue'
import { withUnit } from '@/composables/shown'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

/** What the typed figures come to, or what is wrong with them. */
defineProps<{ preview?: Schemas['Preview']; fault: string }>()
</script>

<template>
  <p class="min-h-8 text-xl max-[20rem]:min-h-0 max-[20rem]:text-base" aria-live="polite" data-preview>
    <span v-if="fault" class="font-semibold" data-fault>{{ fault }}</span>
    <template v-else-if="preview">
      <b class="figures text-2xl sm:text-3xl">{{ rounded(preview.leak_pct, 1) }} %</b>
      <span v-if="preview.hole_mm !== undefined" class="ml-2 max-sm:text-base"
        ><SaidAround :parts="says.around('like', 'hole')"
          ><b class="figures">{{ withUnit(Number(preview.hole_mm.toFixed(2)), 'mm') }}</b></SaidAround
        ><span v-if="Math.abs(preview.reference_leak_pct! - preview.leak_pct) >= 0.05" class="block text-base text-soft"
          ><b class="figures text-ink">{{ rounded(preview.reference_leak_pct!, 1) }} %</b>
          {{ says('100-psi-through-1-mm') }}</span
        ></span
      >
    </template>
  </p>
</template>
