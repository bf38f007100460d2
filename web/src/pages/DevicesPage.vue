<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { doorQuery } from '@/api/queries'
import { longTime } from '@/composables/useFormat'
import { useKeys } from '@/composables/useKeys'
import { sayer } from '@/words/say'
import texts from '@/words/en/devices.json'

const says = sayer(texts)

const client = useQueryClient()
const query = useQuery(doorQuery)
const door = computed(() => query.data.value)
const fault = ref('')

async function then(call: Promise<unknown>) {
  fault.value = ''
  try {
    await call
  } catch (error) {
    fault.value = error instanceof Error ? error.message : says('not-done')
  }
  await client.invalidateQueries({ queryKey: ['door'] })
}
const renew = () => then(ask(api.POST('/api/passcode')))
const change = (device: string, body: { name?: string; shut?: true }) =>
  then(ask(api.POST('/api/devices/{device}', { params: { path: { device } }, body })))
function rename(d: Schemas['Device'], event: Event) {
  const name = (event.target as HTMLInputElement).value.trim()
  if (name && name !== d.name) void change(d.id, { name })
}
const spaced = (passcode: string) => `${passcode.slice(0, 4)} ${passcode.slice(4)}`
useKeys([])
</script>

<template>
  <main v-if="door" class="mx-auto max-w-[1300px] px-4 py-5 sm:px-6">
    <div class="flex flex-wrap items-baseline gap-x-6">
      <h1 class="text-3xl font-semibold">{{ says('devices') }}</h1>
      <RouterLink to="/seat" class="link ml-auto flex min-h-11 items-center">{{ says('helpers-screen') }}</RouterLink>
    </div>
    <div v-if="!door.open" class="mt-3 max-w-2xl text-lg">
      <p>{{ says('only-machine-can-use-braxel') }}</p>
      <ul class="mt-3 list-disc pl-6" data-gains>
        <li>{{ says('phone-at-engine') }}</li>
        <li>{{ says('phone-by-key') }}</li>
        <li>{{ says('several-at-once') }}</li>
      </ul>
      <p class="mt-2">
        {{ says('use-phone-at-engine-another') }}
        <code class="figures bg-track px-1.5 py-0.5 whitespace-nowrap">braxel serve --lan</code
        >{{ says('then-shows-address-passcode-here') }}
      </p>
    </div>
    <div v-else class="mt-4 grid gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,10fr)_minmax(0,9fr)]">
      <section v-if="door.local" :aria-label="says('connecting-phone')">
        <h2 class="border-b border-rule pb-1 font-semibold">{{ says('connect-phone') }}</h2>
        <div class="mt-3 flex flex-wrap gap-x-8 gap-y-4">
          <figure v-if="door.ways[0]" class="bg-white p-4">
            <svg
              :viewBox="`0 0 ${door.ways[0].size} ${door.ways[0].size}`"
              class="size-56"
              role="img"
              :aria-label="says('code', { address: door.ways[0].address })"
              shape-rendering="crispEdges"
            >
              <path :d="door.ways[0].dark" fill="#000" />
            </svg>
          </figure>
          <div class="min-w-0">
            <p class="text-soft">{{ says('point-camera-at-code-or') }}</p>
            <p v-for="w in door.ways" :key="w.address" class="figures text-xl font-semibold break-all" data-address>
              {{ w.address }}
            </p>
            <p v-if="!door.ways.length" class="font-semibold">
              {{ says('machine-isnt-network-phone-could') }}
            </p>
            <p class="mt-3 text-soft">{{ says('passcode') }}</p>
            <p v-if="door.passcode" class="figures text-5xl font-semibold" data-passcode>{{ spaced(door.passcode) }}</p>
            <p v-else class="max-w-xs">
              {{ says('was-made-before-braxel-started') }}
            </p>
            <button class="button-plain mt-3" @click="renew">{{ says('make-new-passcode') }}</button>
            <p class="mt-1 text-[0.95rem] text-soft">{{ says('connected-devices-stay-connected') }}</p>
          </div>
        </div>
      </section>
      <section :aria-label="says('connected-devices')">
        <h2 class="border-b border-rule pb-1 font-semibold">{{ says('connected') }}</h2>
        <p v-if="!door.devices.length" class="mt-3 text-lg text-soft">{{ says('no-device-yet') }}</p>
        <ul>
          <li
            v-for="d in door.devices"
            :key="d.id"
            class="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 border-b border-rule py-2"
            data-device
          >
            <div class="min-w-0">
              <input
                class="w-full min-h-11 bg-transparent text-lg font-semibold"
                :class="{ 'text-soft line-through': d.shut }"
                :value="d.name"
                :aria-label="says('name', { name: d.name })"
                maxlength="60"
                @change="rename(d, $event)"
              />
              <p class="text-[0.95rem] text-soft">
                <b v-if="d.this" class="text-ink">{{ says('device') }} </b>
                {{
                  says('connected-2', {
                    here: d.shut ? says('shut-out-last-seen') : says('last-seen'),
                    seen: longTime(d.seen),
                    since: longTime(d.since),
                  })
                }}
              </p>
            </div>
            <button v-if="!d.shut" class="button-plain" @click="change(d.id, { shut: true })">
              {{ says('shut-out') }}<span class="sr-only">: {{ d.name }}</span>
            </button>
          </li>
        </ul>
        <p v-if="fault" role="alert" class="mt-2 font-semibold">{{ fault }}</p>
        <p v-if="door.devices.some((d) => d.shut)" class="mt-2 text-soft">
          {{ says('what-device-typed-after-was') }}
        </p>
      </section>
      <section v-if="!door.secure" class="lg:col-span-2" :aria-label="says('without-certificate')">
        <h2 class="border-b border-rule pb-1 font-semibold">{{ says('plain-http-without-certificate') }}</h2>
        <p class="mt-2 max-w-3xl">
          {{ says('anyone-listening-network-can-read') }}
          <code class="figures bg-track px-1.5 py-0.5">--tls-cert</code> {{ says('and') }}
          <code class="figures bg-track px-1.5 py-0.5">--tls-key</code> {{ says('all-works') }}
        </p>
      </section>
    </div>
  </main>
  <main v-else-if="query.isError.value" class="p-6" role="alert">{{ query.error.value?.message }}.</main>
</template>
