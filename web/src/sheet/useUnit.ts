import { ref, watch } from 'vue'
import type { PressureUnit } from '@/composables/figure'

/** The unit that figures are typed in: the sheet's, until another is picked. */
export function useUnit(ofSheet: () => PressureUnit | undefined) {
  const unit = ref<PressureUnit>('psi')
  watch(ofSheet, (u) => u && (unit.value = u), { immediate: true })
  return unit
}
