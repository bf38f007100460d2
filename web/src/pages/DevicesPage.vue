<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { doorQuery } from '@/api/queries'
import { longTime } from '@/composables/useFormat'
import { useKeys } from '@/composables/useKeys'

const client = useQueryClient()
const query = useQuery(doorQuery)
const door = computed(() => query.data.value)
const fault = ref('')

async function then(call: Promise<unknown>) {
  fault.value = ''
  try {
    await call
  } catch (error) {
    fault.value = error instanceof Error ? error.message : 'not done'
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
      <h1 class="text-3xl font-semibold">Devices</h1>
      <RouterLink to="/seat" class="link ml-auto flex min-h-11 items-center">The helper’s screen</RouterLink>
    </div>
    <div v-if="!door.open" class="mt-3 max-w-2xl text-lg">
      <p>Braxel answers to this machine alone.</p>
      <p class="mt-2">
        To have a phone at the engine and another with the helper, stop Braxel and start it with
        <code class="figures bg-track px-1.5 py-0.5">braxel serve --lan</code>: it then shows an address and a passcode
        here.
      </p>
    </div>
    <div v-else class="mt-4 grid gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,10fr)_minmax(0,9fr)]">
      <section v-if="door.local" aria-label="Letting a phone in">
        <h2 class="border-b border-rule pb-1 font-semibold">Let a phone in</h2>
        <div class="mt-3 flex flex-wrap gap-x-8 gap-y-4">
          <figure v-if="door.ways[0]" class="bg-white p-4">
            <svg
              :viewBox="`0 0 ${door.ways[0].size} ${door.ways[0].size}`"
              class="size-56"
              role="img"
              :aria-label="`Code of ${door.ways[0].address}`"
              shape-rendering="crispEdges"
            >
              <path :d="door.ways[0].dark" fill="#000" />
            </svg>
          </figure>
          <div class="min-w-0">
            <p class="text-soft">Point its camera at the code, or type</p>
            <p v-for="w in door.ways" :key="w.address" class="figures text-xl font-semibold break-all" data-address>
              {{ w.address }}
            </p>
            <p v-if="!door.ways.length" class="font-semibold">
              This machine is in no network that a phone could be in.
            </p>
            <p class="mt-3 text-soft">Passcode</p>
            <p v-if="door.passcode" class="figures text-5xl font-semibold" data-passcode>{{ spaced(door.passcode) }}</p>
            <p v-else class="max-w-xs">
              It was drawn before Braxel was started, and only its mark is kept: whoever has it comes in by it. Nobody
              has it any more? Draw a new one.
            </p>
            <button class="button-plain mt-3" @click="renew">Draw a new passcode</button>
            <p class="mt-1 text-[0.95rem] text-soft">Devices that are in stay in.</p>
          </div>
        </div>
      </section>
      <section aria-label="Devices that were let in">
        <h2 class="border-b border-rule pb-1 font-semibold">Let in</h2>
        <p v-if="!door.devices.length" class="mt-3 text-lg text-soft">No device yet.</p>
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
                :aria-label="`Name of ${d.name}`"
                maxlength="60"
                @change="rename(d, $event)"
              />
              <p class="text-[0.95rem] text-soft">
                <b v-if="d.this" class="text-ink">this device, </b>
                {{ d.shut ? 'shut out; last here' : 'last here' }} {{ longTime(d.seen) }}, let in
                {{ longTime(d.since) }}
              </p>
            </div>
            <button v-if="!d.shut" class="button-plain" @click="change(d.id, { shut: true })">
              Shut it out<span class="sr-only">: {{ d.name }}</span>
            </button>
          </li>
        </ul>
        <p v-if="fault" role="alert" class="mt-2 font-semibold">{{ fault }}</p>
        <p v-if="door.devices.some((d) => d.shut)" class="mt-2 text-soft">
          What a device that was shut out has typed waits on it. It comes in again by the passcode: draw a new one to
          keep it out.
        </p>
      </section>
      <section v-if="!door.secure" class="lg:col-span-2" aria-label="Without a certificate">
        <h2 class="border-b border-rule pb-1 font-semibold">By plain http, without a certificate</h2>
        <p class="mt-2 max-w-3xl">
          Who listens on this network can read what is sent, and the passcode. On phones the screen may go dark in
          mid-test, a page that is loaded anew while Braxel is away shows nothing, and it is not installed as an app.
          What is typed waits on the phone all the same, and is sent. With
          <code class="figures bg-track px-1.5 py-0.5">--tls-cert</code> and
          <code class="figures bg-track px-1.5 py-0.5">--tls-key</code> all of it works.
        </p>
      </section>
    </div>
  </main>
  <main v-else-if="query.isError.value" class="p-6" role="alert">{{ query.error.value?.message }}.</main>
</template>
