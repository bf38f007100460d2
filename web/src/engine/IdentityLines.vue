<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Schemas } from '@/api/client'
import { sayer } from '@/words/say'
import texts from '@/words/en/engine.json'

const says = sayer(texts)

/** Which engine it is, whose, and what it was built to. */
const props = defineProps<{ engine: Schemas['Engine'] }>()
const of = computed(() => props.engine.identity ?? {})
const lines = computed(() =>
  (
    [
      [says('serial'), of.value.serial],
      [says('block'), of.value.block],
      [says('head'), of.value.head],
      [says('casting'), of.value.casting],
      [says('chassis-or-boat'), of.value.chassis],
      [says('class-or-seal'), of.value.seal],
      [says('builder'), of.value.builder],
    ] as const
  ).filter(([, value]) => value),
)
const spec = computed(() => of.value.spec ?? [])
const owners = computed(() => of.value.owners ?? [])
</script>

<template>
  <section data-identity>
    <h2 class="border-b border-rule pb-1 font-semibold">{{ says('which-engine') }}</h2>
    <dl v-if="lines.length || engine.owner" class="mt-2 flex flex-wrap gap-x-8 gap-y-1">
      <div v-for="[name, value] in lines" :key="name" class="flex gap-x-2">
        <dt class="text-soft">{{ name }}</dt>
        <dd class="figures">{{ value }}</dd>
      </div>
      <div v-if="engine.owner" class="flex flex-wrap gap-x-2">
        <dt class="text-soft">{{ says('owner') }}</dt>
        <dd>
          <RouterLink :to="{ path: '/', query: { owner: engine.owner } }" class="link">{{
            engine.owner
          }}</RouterLink><template v-if="of.phone"
            >, <a :href="`tel:${of.phone}`" class="link figures">{{ of.phone }}</a></template
          ><template v-if="of.email"
            >, <a :href="`mailto:${of.email}`" class="link">{{ of.email }}</a></template
          >
        </dd>
      </div>
    </dl>
    <p v-if="owners.length" class="mt-1">
      <span class="text-soft">{{ says('owners-before') }}</span>
      {{ owners.map((o) => (o.until ? says('owner-until', { name: o.name, until: o.until }) : o.name)).join('; ') }}
    </p>
    <table v-if="spec.length" class="mt-2">
      <tbody>
        <tr v-for="(r, i) in spec" :key="i" class="border-b border-track">
          <th scope="row" class="py-1 pr-6 text-left font-normal">{{ r.what }}</th>
          <td class="figures pr-2 text-right">{{ r.value }}</td>
          <td class="text-soft">{{ r.unit }}</td>
        </tr>
      </tbody>
    </table>
    <slot />
  </section>
</template>
