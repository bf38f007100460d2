import { practice } from '@/api/base'
import type { ShownBore } from '@/components/BorePlan.vue'
import { signed } from '@/composables/useFormat'
import type { Sheet } from '@/composables/useSheet'

/**
 * The bores of a sheet as its bore plan shows them: what each reads and leaks so far, and what that says; but who practises is to judge
 * by himself.
 */
export function boresOf(sheet: Sheet): ShownBore[] {
  if (sheet.rotors)
    return sheet.rotors.map((r) => {
      const read = r.faces.flatMap((f) => (f.reading ? [f.reading.value] : []))
      const judged = sheet.verdict.cylinders.find((v) => v.cylinder === r.rotor)
      const change = judged?.compression_change_pct
      return {
        cylinder: r.rotor,
        place: r.place,
        state: r.settled ? judged?.state : undefined,
        reading: read.length ? String(Math.min(...read)) : undefined,
        faces: read.length ? read.map(String) : undefined,
        change: change === undefined ? undefined : `${signed(change)}%`,
      }
    })
  return sheet.cells.map((c) => {
    const leak = sheet.leak.find((x) => x.cylinder === c.cylinder)?.leak_pct
    const judged = sheet.verdict.cylinders.find((v) => v.cylinder === c.cylinder)
    const change = judged?.compression_change_pct
    return {
      cylinder: c.cylinder,
      place: c.place,
      state: !practice && (c.settled || leak !== undefined) ? judged?.state : undefined,
      reading: c.reading ? String(c.reading.value) : undefined,
      change: change === undefined ? undefined : `${signed(change)}%`,
      leak,
    }
  })
}
