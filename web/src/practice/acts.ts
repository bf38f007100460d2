import type { Schemas } from '@/api/client'
import { sayer } from '@/words/say'
import texts from '@/words/en/practice.json'

const says = sayer(texts)

export type Act = Schemas['PracticeAct']
export type What = Act['what']

/** What may be done to an engine beside its readings: one: it is done to a cylinder. */
export const acts: { what: What; words: string; one?: true }[] = [
  { what: 'throttle', words: says('check-throttle-hold-open') },
  { what: 'charger', words: says('read-battery-put-charger') },
  { what: 'gauge', words: says('use-other-gauge') },
  { what: 'oil', words: says('put-teaspoon-oil'), one: true },
  { what: 'snap', words: says('snap-valves'), one: true },
  { what: 'tdc', words: says('find-tdc-again-with-rod'), one: true },
  { what: 'borescope', words: says('look-inside-with-borescope'), one: true },
  { what: 'piston-height', words: says('measure-piston-height'), one: true },
  { what: 'lash', words: says('check-lash-valve-lift'), one: true },
  { what: 'coolant', words: says('watch-coolant-while-cranking') },
  { what: 'cam-marks', words: says('check-cam-marks') },
  { what: 'warm', words: says('run-until-hot-test-again') },
]

export const places = [
  { where: 'crankcase', words: says('oil-filler'), key: 'C' },
  { where: 'intake', words: says('intake'), key: 'I' },
  { where: 'exhaust', words: says('tailpipe'), key: 'E' },
  { where: 'coolant', words: says('radiator'), key: 'W' },
  { where: 'neighbour', words: says('neighbour'), key: 'N' },
  { where: 'plug_hole', words: says('own-plug-hole'), key: 'P' },
] as const

/** How long something took, as one says it. */
export function lasted(minutes: number): string {
  const whole = Math.round(minutes)
  if (whole < 60) return says('min-2', { whole })
  return says('h-min', { hours: Math.floor(whole / 60), minutes: String(whole % 60).padStart(2, '0') })
}
