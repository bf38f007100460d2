import { api, ask, type Schemas } from '@/api/client'
import { asForm } from '@/api/form'

export type TraceRead = Schemas['TraceRead']

/** Hands a recording in to be read; nothing of it is kept yet. */
export function readTrace(
  file: File,
  engine: string,
  number: number,
  measured: string,
  unit: string,
): Promise<TraceRead> {
  return ask(api.POST('/api/import/trace', asForm({ file, engine, number: String(number), measured, unit })))
}

/** The points of a recording that was kept. */
export const curveOf = (trace: Schemas['Trace']): Promise<TraceRead> =>
  ask(api.POST('/api/trace/curve', { body: trace }))

/** A recording as it is noted on the sheet, of a place or of the whole engine. */
export const noteOf = (trace: Schemas['Trace'], place: { cylinder?: number; rotor?: number } = {}) => ({
  what: 'other' as const,
  ...place,
  finding: 'recording',
  note: trace.why,
  trace,
})

/** What stands at a compression in the chart: its cylinder or face, else its count. */
export function markOf(beat: Schemas['Beat'], i: number): string {
  if (beat.cylinder) return String(beat.cylinder)
  return beat.face ? `f${beat.face}` : String(i + 1)
}

/** The cylinders of a relative test, the lowest first. */
export function ranked(relative: Record<string, number> | undefined): { cylinder: string; pct: number }[] {
  return Object.entries(relative ?? {})
    .map(([cylinder, pct]) => ({ cylinder, pct }))
    .sort((a, b) => a.pct - b.pct)
}
