import type { Schemas } from '@/api/client'

/** When to stop cranking, as one says it. */
export function stopWhen(cranking: Schemas['Cranking'] | undefined): string {
  if (cranking?.rule === 'count') return `${cranking.count ?? 6} beats each`
  if (cranking?.rule === 'time') return `${cranking.seconds ?? 5} seconds each`
  return 'until the needle stops rising'
}

/** A diesel has no spark to take off and no throttle to hold. */
export const isDiesel = (engine: Schemas['Engine']) => engine.fuel === 'diesel'

/** What is off while it is cranked, as one line at the sheet; the whole list is in Prepare. */
export function madeSafe(engine: Schemas['Engine']): string {
  return isDiesel(engine) ? 'Fuel off.' : 'Fuel off, spark off, throttle wide open.'
}
