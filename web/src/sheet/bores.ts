import type { ShownBore } from '@/components/BorePlan.vue'
import { signed } from '@/composables/useFormat'
import type { Sheet } from '@/composables/useSheet'

/** The bores of a sheet as its bore plan shows them: what each reads and leaks so far, and what that says. */
export function boresOf(sheet: Sheet): ShownBore[] {
  return sheet.cells.map((c) => {
    const leak = sheet.leak.find((x) => x.cylinder === c.cylinder)?.leak_pct
    const judged = sheet.verdict.cylinders.find((v) => v.cylinder === c.cylinder)
    const change = judged?.compression_change_pct
    return {
      cylinder: c.cylinder,
      place: c.place,
      state: c.settled || leak !== undefined ? judged?.state : undefined,
      reading: c.reading ? String(c.reading.value) : undefined,
      change: change === undefined ? undefined : `${signed(change)}%`,
      leak,
    }
  })
}
