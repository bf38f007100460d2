import type { Schemas } from '@/api/client'

export type Act = Schemas['PracticeAct']
export type What = Act['what']

/** What may be done to an engine beside its readings: one: it is done to a cylinder. */
export const acts: { what: What; words: string; one?: true }[] = [
  { what: 'throttle', words: 'Look at the throttle, and hold it open' },
  { what: 'charger', words: 'Read the battery, and put a charger on' },
  { what: 'gauge', words: 'Take the other gauge' },
  { what: 'oil', words: 'A teaspoon of oil into it', one: true },
  { what: 'snap', words: 'Snap its valves', one: true },
  { what: 'tdc', words: 'Seek its dead centre anew, with a rod', one: true },
  { what: 'borescope', words: 'Look in with the borescope', one: true },
  { what: 'piston-height', words: 'Measure its piston height', one: true },
  { what: 'lash', words: 'Check its lash, and the lift of its valves', one: true },
  { what: 'coolant', words: 'Look at the coolant while it is cranked' },
  { what: 'cam-marks', words: 'Check the cam marks' },
  { what: 'warm', words: 'Run it until it is hot, and test it again' },
]

export const places = [
  { where: 'crankcase', words: 'oil filler', key: 'C' },
  { where: 'intake', words: 'intake', key: 'I' },
  { where: 'exhaust', words: 'tailpipe', key: 'E' },
  { where: 'coolant', words: 'radiator', key: 'W' },
  { where: 'neighbour', words: 'neighbour', key: 'N' },
  { where: 'plug_hole', words: 'its own plug hole', key: 'P' },
] as const

/** How long something took, as one says it. */
export function lasted(minutes: number): string {
  const whole = Math.round(minutes)
  if (whole < 60) return `${whole} min`
  return `${Math.floor(whole / 60)} h ${String(whole % 60).padStart(2, '0')} min`
}
