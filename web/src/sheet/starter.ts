import type { Schemas } from '@/api/client'

/** One run of the starter: when it ended, ms, and how long it was, seconds. */
export interface Run {
  ended: number
  seconds: number
}

/**
 * Says how many seconds the starter is still to rest before the next pull. Each second of cranking costs so many of rest, which
 * pass while the gauge is moved; it may be asked for again once the next pull stays within what it stands at once.
 */
export function restLeft(runs: Run[], crank: Schemas['Crank'], now: number): number {
  let owed = 0
  let last = -Infinity
  for (const run of [...runs].sort((a, b) => a.ended - b.ended)) {
    const rested = (run.ended - last) / 1000 - run.seconds
    owed = Math.max(0, owed - Math.max(0, rested)) + run.seconds * crank.rest_factor
    last = run.ended
  }
  owed = Math.max(0, owed - (now - last) / 1000)
  const room = Math.max(0, crank.most_s - crank.about_s) * crank.rest_factor
  return Math.max(0, owed - room)
}
