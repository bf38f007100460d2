import type { Schemas } from '@/api/client'
import type { Quantity } from './units'
import { sayer } from '@/words/say'
import texts from '@/words/en/sums.json'

const says = sayer(texts)

/** One figure that a tool asks for; start is in the sum's own unit. A list takes several figures, apart by spaces. */
export interface Field {
  key: string
  words: string
  quantity: Quantity
  start?: number | number[] | number[][]
  optional?: boolean
  /** The engine's figure that fills it in. */
  from?: (e: Schemas['Engine']) => number | undefined
}

export interface Result {
  key: string
  words: string
  quantity: Quantity
}

export interface Tool {
  sum:
    | 'leak'
    | 'two-testers'
    | 'cranking'
    | 'ratio'
    | 'oil-gain'
    | 'piston-push'
    | 'sea-level'
    | 'ambient'
    | 'stroke'
    | 'evenness'
    | 'repeatability'
    | 'rotor'
  title: string
  /** What one would want to know it for. */
  purpose: string
  fields: Field[]
  results: Result[]
  /** Keys of the results that make one band, low to high. */
  band?: string[]
  says?: string
  caution?: string
}

const bore: Field = { key: 'bore_mm', words: says('bore'), quantity: 'length', start: 87, from: (e) => e.bore_mm }
const stroke: Field = {
  key: 'stroke_mm',
  words: says('stroke'),
  quantity: 'length',
  start: 91,
  from: (e) => e.stroke_mm,
}
const rod: Field = { key: 'rod_mm', words: says('rod'), quantity: 'length', start: 149, from: (e) => e.rod_mm }
const ratio: Field = {
  key: 'compression_ratio',
  words: says('compression-ratio'),
  quantity: 'ratio',
  start: 11.4,
  from: (e) => e.compression_ratio,
}
const closes: Field = {
  key: 'intake_closes_abdc_deg',
  words: says('intake-closes-after-bdc'),
  quantity: 'angle',
  start: 62,
  from: (e) => e.intake_closes_abdc_deg,
}
const air: Field = { key: 'ambient_kpa', words: says('air-pressure'), quantity: 'air', start: 101.3, optional: true }
const supply: Field = { key: 'supply_kpa', words: says('supply'), quantity: 'pressure', start: 689.476 }
const held: Field = { key: 'held_kpa', words: says('held'), quantity: 'pressure', start: 641.2 }
const orifice: Field = {
  key: 'orifice_mm',
  words: says('testers-orifice'),
  quantity: 'length',
  start: 1,
  optional: true,
}
const dead: Field = {
  key: 'dead_volume_cc',
  words: says('hose-ahead-check-valve'),
  quantity: 'volume',
  start: 0,
  optional: true,
}

export const tools: Tool[] = [
  {
    sum: 'leak',
    title: says('leak-hole'),
    purpose: says('for-leak'),
    fields: [supply, held, orifice, air],
    results: [
      { key: 'leak_pct', words: says('leak-supply'), quantity: 'percent' },
      { key: 'hole_mm', words: says('like-hole'), quantity: 'length' },
      { key: 'reference_leak_pct', words: says('100-psi-1-mm-at'), quantity: 'percent' },
    ],
    says: says('some-air-always-passes-rings'),
    caution: says('raise-air-slowly-never-above'),
  },
  {
    sum: 'two-testers',
    title: says('two-testers'),
    purpose: says('for-two-testers'),
    fields: [
      supply,
      held,
      orifice,
      { key: 'other_supply_kpa', words: says('other-testers-supply'), quantity: 'pressure', start: 551.581 },
      { key: 'other_orifice_mm', words: says('other-testers-orifice'), quantity: 'length', start: 1.5 },
      air,
    ],
    results: [
      { key: 'leak_pct', words: says('tester-shows'), quantity: 'percent' },
      { key: 'other_leak_pct', words: says('other-shows'), quantity: 'percent' },
      { key: 'other_held_kpa', words: says('held-dial'), quantity: 'pressure' },
      { key: 'hole_mm', words: says('one-hole-behind-both'), quantity: 'length' },
    ],
    says: says('one-leak-two-percentages-compare'),
  },
  {
    sum: 'cranking',
    title: says('cranking-pressure'),
    purpose: says('for-cranking'),
    fields: [bore, stroke, rod, ratio, closes, air, dead],
    results: [
      { key: 'low_kpa', words: says('low'), quantity: 'pressure' },
      { key: 'mid_kpa', words: says('middle'), quantity: 'pressure' },
      { key: 'high_kpa', words: says('high'), quantity: 'pressure' },
    ],
    band: ['low_kpa', 'mid_kpa', 'high_kpa'],
    says: says('band-since-heat-speed-differ'),
  },
  {
    sum: 'ratio',
    title: says('ratio-from-reading'),
    purpose: says('for-ratio'),
    fields: [
      { key: 'gauge_kpa', words: says('gauge-reads'), quantity: 'pressure', start: 1289 },
      bore,
      stroke,
      rod,
      closes,
      air,
      dead,
    ],
    results: [
      { key: 'low_ratio', words: says('low'), quantity: 'ratio' },
      { key: 'mid_ratio', words: says('middle'), quantity: 'ratio' },
      { key: 'high_ratio', words: says('high'), quantity: 'ratio' },
    ],
    band: ['low_ratio', 'mid_ratio', 'high_ratio'],
    says: says('for-good-cylinder-worn-one'),
  },
  {
    sum: 'oil-gain',
    title: says('what-oil-alone-adds'),
    purpose: says('for-oil-gain'),
    fields: [bore, stroke, rod, ratio, closes, { key: 'oil_cc', words: says('oil-put'), quantity: 'volume', start: 5 }],
    results: [{ key: 'gain_pct', words: says('every-cylinder-rises-up'), quantity: 'percent' }],
    says: says('oil-takes-up-room-chamber'),
    caution: says('never-oil-diesel-without-care'),
  },
  {
    sum: 'piston-push',
    title: says('piston-push'),
    purpose: says('for-piston-push'),
    fields: [
      supply,
      bore,
      stroke,
      rod,
      { key: 'deg_from_tdc', words: says('crank-off-tdc'), quantity: 'angle', start: 5 },
      { key: 'handle_mm', words: says('bar-bolt'), quantity: 'length', start: 300 },
    ],
    results: [
      { key: 'handle_n', words: says('at-end-bar'), quantity: 'force' },
      { key: 'torque_nm', words: says('crank'), quantity: 'torque' },
      { key: 'force_n', words: says('piston'), quantity: 'force' },
    ],
    caution: says('take-every-tool-off-crank'),
  },
  {
    sum: 'sea-level',
    title: says('altitude'),
    purpose: says('for-sea-level'),
    fields: [
      { key: 'gauge_kpa', words: says('gauge-reads'), quantity: 'pressure', start: 1103 },
      { key: 'ambient_kpa', words: says('air-pressure-there'), quantity: 'air', start: 83.8 },
    ],
    results: [{ key: 'sea_level_kpa', words: says('at-sea-level'), quantity: 'pressure' }],
    says: says('engine-makes-pressure-ratio-so'),
  },
  {
    sum: 'ambient',
    title: says('air-at-altitude'),
    purpose: says('for-ambient'),
    fields: [
      { key: 'altitude_m', words: says('altitude-2'), quantity: 'height', start: 1600, from: (e) => e.altitude_m },
    ],
    results: [{ key: 'ambient_kpa', words: says('standard-air-pressure'), quantity: 'air' }],
    says: says('mile-up-costs-about-sixth'),
  },
  {
    sum: 'stroke',
    title: says('stroke-rod-marks'),
    purpose: says('for-stroke'),
    fields: [
      { key: 'distance_mm', words: says('between-marks'), quantity: 'length', start: 94.2 },
      { key: 'plug_angle_deg', words: says('plug-hole-bore'), quantity: 'angle', start: 15 },
      { ...bore, start: 101 },
      {
        key: 'cylinders',
        words: says('cylinders'),
        quantity: 'count',
        start: 8,
        from: (e) => e.layout.banks?.flat().length,
      },
    ],
    results: [
      { key: 'stroke_mm', words: says('stroke'), quantity: 'length' },
      { key: 'displacement_cc', words: says('displacement'), quantity: 'volume' },
    ],
    says: says('big-crank-you-paid-for'),
  },
  {
    sum: 'evenness',
    title: says('evenness'),
    purpose: says('for-evenness'),
    fields: [
      {
        key: 'readings_kpa',
        words: says('readings-with-spaces-between'),
        quantity: 'pressure',
        start: [1186, 1179, 1082, 1193],
      },
    ],
    results: [
      { key: 'spread_pct_of_highest', words: says('spread-highest'), quantity: 'percent' },
      { key: 'spread', words: says('spread'), quantity: 'pressure' },
      { key: 'lowest_pct_of_highest', words: says('lowest-highest'), quantity: 'percent' },
    ],
  },
  {
    sum: 'repeatability',
    title: says('repeatability'),
    purpose: says('for-repeatability'),
    fields: [
      {
        key: 'groups_kpa',
        words: says('readings-one-cylinder-line'),
        quantity: 'pressure',
        start: [
          [1186, 1193],
          [1103, 1124, 1110],
          [1179, 1179],
        ],
      },
    ],
    results: [
      { key: 'sd_kpa', words: says('standard-deviation-reading'), quantity: 'pressure' },
      { key: 'repeatability_limit_kpa', words: says('two-readings-further-apart-suspicious'), quantity: 'pressure' },
    ],
  },
  {
    sum: 'rotor',
    title: says('rotor-faces'),
    purpose: says('for-rotor'),
    fields: [
      { key: 'pulses', words: says('pulses-counted'), quantity: 'count', start: 25 },
      { key: 'seconds', words: 'in', quantity: 'time', start: 6.2 },
      { key: 'held_peak_kpa', words: says('held-peak'), quantity: 'pressure', start: 731 },
      { key: 'face_pulses_kpa', words: says('three-pulses-row'), quantity: 'pressure', start: [676, 655, 690] },
      { ...air, start: 101.3 },
    ],
    results: [
      { key: 'rpm', words: says('cranked-at'), quantity: 'speed' },
      { key: 'faces_kpa', words: says('faces-as-read'), quantity: 'pressure' },
      { key: 'faces_at_250_kpa', words: says('at-250-rpm-sea-level'), quantity: 'pressure' },
    ],
    says: says('without-makers-table-step-250'),
  },
]
