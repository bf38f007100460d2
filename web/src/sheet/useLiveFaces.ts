import { computed, watch, type Ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { PressureUnit } from '@/composables/figure'
import type { Work } from '@/composables/useSheet'
import type { Starter } from './useCrank'
import { useGauge } from './useGauge'

/** How often each face must have come by before the three are told apart. */
const enoughPulses = 12

interface Step {
  current: Ref<number>
  /** Something is asked for, and nothing is typed. */
  wanted: () => boolean
  starter: Starter
  /** The gauge with its valve in gave the held peak. */
  peak: (value: number) => void
  /** Without it: the three faces, or as many as were told apart. */
  faces: (rotor: number, took: Schemas['TakenPull'], gauge?: string, seconds?: number) => unknown
}

/** A gauge that speaks: with its valve in it gives the held peak; without it the three faces, when each has come by a few times. */
export function useLiveFaces(work: Work, unit: Ref<PressureUnit>, step: Step) {
  const live = useGauge(unit)
  const there = computed(() => {
    const now = live.now.value
    if (!live.speaks.value || now?.phase !== 'settled' || !step.wanted() || !work.sheet.value!.session.open) return 0
    if (live.heard.value?.kind === 'bare' && (now.beats ?? 0) < enoughPulses) return 0
    return live.hands.value ? now.pull! : 0
  })
  watch(there, (pull) => pull && void take(pull))
  async function take(pull: number) {
    const rotor = step.current.value
    const seconds = step.starter.take(rotor)
    const name = live.heard.value?.name
    const took = await live.take(work.engine, rotor, pull)
    if (typeof took === 'string') return
    if (live.heard.value?.kind === 'valve') step.peak(live.now.value?.reading ?? 0)
    else await step.faces(rotor, took, name, seconds)
  }
  return live
}
