import { computed, watch, type Ref } from 'vue'
import type { PressureUnit } from '@/composables/figure'
import type { Work } from '@/composables/useSheet'
import { useGauge } from './useGauge'

interface Step {
  current: Ref<number>
  /** Nothing is typed over. */
  free: () => boolean
  /** The figures of a cylinder, for their fields; where the air goes is for the ear. */
  came: (cylinder: number, supply: number, held: number) => void
}

/** A leak-down tester that speaks: when supply and held pressure stand still, they go into their fields. */
export function useLiveAir(work: Work, unit: Ref<PressureUnit>, step: Step) {
  const live = useGauge(unit, true)
  const air = computed(() => (live.speaks.value ? live.now.value : undefined))
  watch(
    () => air.value?.phase === 'settled' && step.free() && work.sheet.value!.session.open && air.value.pull,
    (pull) => pull && void take(pull),
  )
  async function take(pull: number) {
    const cylinder = step.current.value
    const took = await live.take(work.engine, cylinder, pull)
    if (typeof took !== 'string' && step.free()) step.came(cylinder, took.supply ?? 0, took.held ?? 0)
  }
  return { live, air }
}
