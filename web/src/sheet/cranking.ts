import type { Schemas } from '@/api/client'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

/** When to stop cranking, as one says it. */
export function stopWhen(cranking: Schemas['Cranking'] | undefined): string {
  if (cranking?.rule === 'count') return says('compressions-each', { count: cranking.count ?? 6 })
  if (cranking?.rule === 'time') return says('seconds-each', { seconds: cranking.seconds ?? 5 })
  return says('until-needle-stops-rising')
}

/** A diesel has no spark to take off and no throttle to hold. */
export const isDiesel = (engine: Schemas['Engine']) => engine.fuel === 'diesel'

/** What is off while it is cranked, as one line at the sheet; the whole list is in Prepare. */
export function madeSafe(engine: Schemas['Engine']): string {
  return isDiesel(engine) ? says('fuel-off') : says('fuel-off-spark-off-throttle')
}
