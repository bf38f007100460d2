<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { words } from '@/api/constants.gen'
import { own, pressureOr, withUnit, workshops, type Choice, type Chosen } from '@/composables/shown'
import { turned } from '@/composables/measures'
import { longTime } from '@/composables/useFormat'
import { useKeys } from '@/composables/useKeys'
import { problemOf } from '@/composables/useSheet'
import { drop, tell, type Typed } from '@/outbox/useOutbox'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/units.json'

const says = sayer(texts)

const client = useQueryClient()

const asOne = (value: number) => {
  const unit = pressureOr('psi')
  return `${rounded(turned(value, 'psi', unit), unit === 'psi' || unit === 'kPa' ? 0 : 1)} ${unit}`
}
/** What can be chosen, with an example of each; the first is what stands where nothing is chosen. */
const rows: { of: Chosen; options: readonly string[]; usual: string; example: () => string }[] = [
  { of: 'pressure', options: words.Reading.unit, usual: says('as-typed'), example: () => asOne(172) },
  { of: 'temperature', options: words.Choice.temperature, usual: '°C', example: () => withUnit(85, '°C') },
  { of: 'length', options: words.Choice.length, usual: 'mm', example: () => withUnit(82.55, 'mm') },
  { of: 'height', options: words.Choice.height, usual: 'm', example: () => withUnit(210, 'm') },
  { of: 'air', options: words.Choice.air, usual: 'kPa', example: () => withUnit(101.3, 'kPa') },
  { of: 'volume', options: words.Choice.volume, usual: 'cc', example: () => withUnit(1998, 'cc') },
  { of: 'distance', options: words.Choice.distance, usual: 'km', example: () => withUnit(20000, 'km') },
  { of: 'torque', options: words.Choice.torque, usual: 'Nm', example: () => withUnit(62, 'Nm') },
  {
    of: 'clock',
    options: words.Choice.clock,
    usual: says('24'),
    example: () => longTime('2033-04-02T14:05:00').split(', ').at(-1)!,
  },
  {
    of: 'dates',
    options: words.Choice.dates,
    usual: says('day-month'),
    example: () => longTime('2033-04-02T14:05:00').replace(/, [^,]*$/, ''),
  },
]
const names: Record<string, string> = {
  '24': says('24'),
  '12': says('12'),
  'day-month': says('day-month'),
  'month-day': says('month-day'),
}
const called = (option: string) => names[option] ?? option

/** What the workshop may choose: its usual one is nothing chosen, so it is not offered twice. */
const forWorkshop = (row: (typeof rows)[number]) => row.options.filter((o) => called(o) !== row.usual)

const fault = ref('')
const waits = ref('')
async function chooseForAll(of: Chosen, value: string) {
  const before = workshops.value[of] ?? null
  const outcome = await tell({
    kind: 'units',
    body: { [of]: value || null },
    was: { [of]: before },
  } as unknown as Typed<'units'>)
  fault.value = ''
  if (outcome.is === 'refused') {
    await drop(outcome.entry.id)
    fault.value = problemOf(outcome).errors?.[0]?.message ?? ''
    return
  }
  workshops.value = { ...workshops.value, [of]: value || undefined } as Choice
  waits.value = outcome.is === 'waiting' ? says('waiting-sent') : ''
  await client.invalidateQueries()
}
function chooseForMe(of: Chosen, value: string) {
  own.value = Object.fromEntries(Object.entries({ ...own.value, [of]: value }).filter(([, v]) => v)) as Choice
}
const picked = (event: Event) => (event.target as HTMLSelectElement).value
useKeys([])
</script>

<template>
  <main class="mx-auto max-w-[1100px] px-4 py-5 sm:px-6">
    <h1 class="text-3xl font-semibold">{{ says('units') }}</h1>
    <p class="mt-1 max-w-3xl text-lg">{{ says('how-shown') }}</p>
    <p v-if="fault" role="alert" class="mt-3 border-l-4 border-act pl-3 font-semibold">{{ fault }}</p>
    <p v-if="waits" role="status" class="mt-3">{{ waits }}</p>
    <table class="mt-4 w-full">
      <thead class="text-left text-soft">
        <tr class="border-b border-rule max-sm:sr-only">
          <th class="py-1 font-normal">{{ says('what') }}</th>
          <th class="font-normal">{{ says('workshop') }}</th>
          <th class="font-normal">{{ says('me') }}</th>
          <th class="font-normal">{{ says('so') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="r in rows"
          :key="r.of"
          class="border-b border-track max-sm:grid max-sm:grid-cols-2 max-sm:gap-x-3 max-sm:py-2"
        >
          <th scope="row" class="py-2 pr-4 text-left text-lg font-semibold max-sm:col-start-1 max-sm:row-start-1">
            {{ says(r.of) }}
          </th>
          <td class="pr-4 max-sm:row-start-2">
            <span class="text-[0.9rem] text-soft sm:hidden">{{ says('workshop') }}</span>
            <select
              class="field min-w-36"
              :aria-label="says('of-workshop', { what: says(r.of) })"
              :value="workshops[r.of] ?? ''"
              @change="chooseForAll(r.of, picked($event))"
            >
              <option value="">{{ r.usual }}</option>
              <option v-for="o in forWorkshop(r)" :key="o" :value="o">{{ called(o) }}</option>
            </select>
          </td>
          <td class="pr-4 max-sm:row-start-2">
            <span class="text-[0.9rem] text-soft sm:hidden">{{ says('me') }}</span>
            <select
              class="field min-w-36"
              :aria-label="says('of-me', { what: says(r.of) })"
              :value="own[r.of] ?? ''"
              @change="chooseForMe(r.of, picked($event))"
            >
              <option value="">{{ says('as-workshop') }}</option>
              <option v-for="o in r.options" :key="o" :value="o">{{ called(o) }}</option>
            </select>
          </td>
          <td class="figures text-xl max-sm:col-start-2 max-sm:row-start-1 max-sm:self-center">{{ r.example() }}</td>
        </tr>
      </tbody>
    </table>
    <p class="mt-3 text-soft">{{ says('meter-stays') }}</p>
  </main>
</template>
