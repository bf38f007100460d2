<script setup lang="ts">
import { computed, ref } from 'vue'
import CauseList from '@/components/CauseList.vue'
import HowItCame from '@/components/HowItCame.vue'
import OtherFaults from '@/components/OtherFaults.vue'
import DueLine from '@/components/DueLine.vue'
import RepairDialog from '@/components/RepairDialog.vue'
import KeyCap from '@/components/KeyCap.vue'
import Schools from '@/components/Schools.vue'
import StateMark from '@/components/StateMark.vue'
import { inConcern } from '@/components/state'
import { signed } from '@/composables/useFormat'
import { useKeys } from '@/composables/useKeys'
import type { Work } from '@/composables/useSheet'
import RotorTable from './RotorTable.vue'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

const props = defineProps<{ work: Work }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const sheet = computed(() => props.work.sheet.value!)
const rows = computed(() =>
  sheet.value.cells.map((c) => {
    const leak = sheet.value.leak.find((x) => x.cylinder === c.cylinder)
    return {
      ...c,
      wet: sheet.value.wet.find((x) => x.cylinder === c.cylinder),
      leak,
      attempt: leak?.attempts.filter((a) => !a.struck).at(-1),
      judged: sheet.value.verdict.cylinders.find((x) => x.cylinder === c.cylinder),
    }
  }),
)

const repairing = ref(false)
const repaired = ref('')
const concern = computed(() => sheet.value.verdict.cylinders.filter((c) => inConcern(c.state)).map((c) => c.cylinder))

useKeys([
  { keys: ['r'], does: says('record-repair'), run: () => (repairing.value = true) },
  { keys: ['Enter'], does: says('go-put-everything-back'), run: () => emit('done') },
  { keys: ['Escape'], does: says('leave-sheet-everything-saved'), run: () => emit('leave') },
])
</script>

<template>
  <div class="py-5">
    <p class="flex flex-wrap items-center gap-3">
      <StateMark v-if="sheet.verdict.mark" :state="sheet.verdict.mark" />
      <span class="text-[1.7rem] leading-tight font-semibold" data-headline>{{ sheet.verdict.headline }}</span>
    </p>
    <p class="mt-1 max-w-[60rem] text-[1.2rem] leading-snug" data-sentence>{{ sheet.verdict.sentence }}</p>
    <p v-if="sheet.verdict.decision" class="mt-1 text-lg">
      <b class="font-semibold" data-decision>{{ sheet.verdict.decision }}</b>
      <DueLine v-if="sheet.verdict.due" class="ml-2" :due="sheet.verdict.due" :unit="sheet.engine.meter_unit" />
    </p>
    <p v-if="concern.length || sheet.verdict.repaired" class="flex flex-wrap items-center gap-x-6" data-repair>
      <button v-if="concern.length" class="link min-h-11" @click="repairing = true">
        {{ says('record-repair') }} <KeyCap>r</KeyCap>
      </button>
      <RouterLink
        v-if="sheet.verdict.repaired"
        class="link flex min-h-11 items-center"
        :to="{
          path: '/compare',
          query: { of: [`${work.engine}:${sheet.verdict.repaired.from}`, `${work.engine}:${work.session}`] },
        }"
        >{{ says('before-and-after') }}</RouterLink
      >
      <span v-if="repaired" role="status" class="text-soft">{{ repaired }}</span>
    </p>
    <p v-for="c in sheet.verdict.caveats" :key="c" class="mt-2 border-l-4 border-rule pl-3" data-caveat>{{ c }}</p>
    <p v-for="w in sheet.warnings" :key="w" class="mt-2 border-l-4 border-watch pl-3" data-warning>{{ w }}</p>
    <div class="mt-5 grid gap-x-10 gap-y-6 xl:grid-cols-[minmax(0,13fr)_minmax(0,8fr)] xl:grid-rows-[auto_1fr]">
      <RotorTable v-if="sheet.rotors" :rotors="sheet.rotors" :unit="sheet.unit" :current="0" still />
      <div v-else class="relative overflow-x-auto" tabindex="0" role="region" :aria-label="says('each-cylinder')">
        <table class="w-full min-w-[38rem]">
          <thead class="text-left text-[0.9rem] text-soft">
            <tr class="border-b border-rule">
              <th class="py-1 pr-4 font-normal">{{ says('cylinder') }}</th>
              <th class="pr-4 font-normal whitespace-nowrap">{{ says('dry', { unit: sheet.unit }) }}</th>
              <th class="pr-4 font-normal whitespace-nowrap">{{ says('baseline') }}</th>
              <th class="pr-4 font-normal whitespace-nowrap">{{ says('change') }}</th>
              <th class="pr-4 font-normal whitespace-nowrap">{{ says('wet') }}</th>
              <th class="pr-4 font-normal whitespace-nowrap">{{ says('leak') }}</th>
              <th class="pr-4 font-normal whitespace-nowrap">{{ says('like-100-psi-1-mm') }}</th>
              <th class="pr-4 font-normal whitespace-nowrap">{{ says('heard-at') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="r in rows"
              :key="r.cylinder"
              class="border-b border-track"
              :class="{ 'font-semibold': r.judged && r.judged.state !== 'steady' }"
            >
              <th scope="row" class="figures py-2 text-left text-xl font-semibold">{{ r.cylinder }}</th>
              <td class="pr-4 whitespace-nowrap figures text-xl">{{ r.reading?.value ?? '–' }}</td>
              <td class="pr-4 whitespace-nowrap figures text-soft">{{ r.baseline?.value ?? '–' }}</td>
              <td class="pr-4 whitespace-nowrap figures">
                {{
                  r.judged?.compression_change_pct === undefined ? '–' : `${signed(r.judged.compression_change_pct)} %`
                }}
              </td>
              <td class="pr-4 whitespace-nowrap figures">
                {{ r.wet?.gain_pct === undefined ? '–' : `+${rounded(r.wet.gain_pct, 0)} %` }}
              </td>
              <td class="pr-4 whitespace-nowrap figures">
                {{ r.leak?.leak_pct === undefined ? '–' : `${rounded(r.leak.leak_pct, 1)} %` }}
              </td>
              <td class="pr-4 whitespace-nowrap figures text-soft">
                {{
                  r.attempt?.reference_leak_pct === undefined ? '–' : `${rounded(r.attempt.reference_leak_pct, 1)} %`
                }}
              </td>
              <td>{{ r.attempt?.heard ?? '–' }}</td>
            </tr>
          </tbody>
          <tfoot v-if="Math.abs(sheet.verdict.common_change_pct ?? 0) >= 0.5">
            <tr>
              <th scope="row" class="py-2 text-left font-normal text-soft" colspan="3">{{ says('all-together') }}</th>
              <td class="figures pr-5 whitespace-nowrap">{{ signed(sheet.verdict.common_change_pct!) }} %</td>
              <td class="text-soft" colspan="4">{{ says('taken-off-each-battery-heat') }}</td>
            </tr>
          </tfoot>
        </table>
        <ul class="mt-3 grid gap-1">
          <li v-for="r in rows.filter((x) => x.wet?.says)" :key="r.cylinder">
            <b class="figures">{{ r.cylinder }}</b> {{ says('wet-2', { says: r.wet!.says }) }}
          </li>
        </ul>
      </div>
      <div class="xl:col-start-2 xl:row-span-2 xl:row-start-1">
        <CauseList
          v-if="sheet.verdict.causes.length && sheet.verdict.causes[0]!.cause !== 'healthy'"
          :causes="sheet.verdict.causes"
          :next="sheet.verdict.next"
          @next="$router.replace(`/engines/${work.engine}/tests/${work.session}/${sheet.verdict.next?.step}`)"
        />
        <OtherFaults :faults="sheet.verdict.faults ?? []" />
        <HowItCame :verdict="sheet.verdict" />
      </div>
      <Schools
        v-if="sheet.evenness.length"
        class="xl:col-start-1"
        :judgements="sheet.evenness"
        :beside="sheet.verdict.beside"
      />
    </div>
    <p class="mt-6 max-w-3xl text-[0.95rem] text-soft">
      {{ says('braxels-verdict-aid-factory-manual') }}
    </p>
    <button class="button-main mt-4 min-h-14 w-full max-w-xl text-xl" @click="$emit('done')">
      {{ says('put-everything-back') }} <KeyCap>{{ says('enter') }}</KeyCap>
    </button>
    <RepairDialog
      :open="repairing"
      :engine="work.engine"
      :kind="sheet.engine.kind"
      :cylinders="sheet.cells"
      :unit="sheet.engine.meter_unit ?? 'h'"
      :today="sheet.session.date"
      :after="work.session"
      :concern="concern"
      :cause="sheet.verdict.causes[0]?.cause"
      @close="repairing = false"
      @kept="(words) => (repaired = words || says('repair-saved'))"
    />
  </div>
</template>
