import type { Schemas } from '@/api/client'
import type { Quantity } from './units'

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
  fields: Field[]
  results: Result[]
  /** Keys of the results that make one band, low to high. */
  band?: string[]
  says?: string
  caution?: string
}

const bore: Field = { key: 'bore_mm', words: 'bore', quantity: 'length', start: 87, from: (e) => e.bore_mm }
const stroke: Field = { key: 'stroke_mm', words: 'stroke', quantity: 'length', start: 91, from: (e) => e.stroke_mm }
const rod: Field = { key: 'rod_mm', words: 'rod', quantity: 'length', start: 149, from: (e) => e.rod_mm }
const ratio: Field = {
  key: 'compression_ratio',
  words: 'compression ratio',
  quantity: 'ratio',
  start: 11.4,
  from: (e) => e.compression_ratio,
}
const closes: Field = {
  key: 'intake_closes_abdc_deg',
  words: 'intake closes after BDC',
  quantity: 'angle',
  start: 62,
  from: (e) => e.intake_closes_abdc_deg,
}
const air: Field = { key: 'ambient_kpa', words: 'air pressure', quantity: 'air', start: 101.3, optional: true }
const supply: Field = { key: 'supply_kpa', words: 'supply', quantity: 'pressure', start: 689.476 }
const held: Field = { key: 'held_kpa', words: 'held', quantity: 'pressure', start: 641.2 }
const orifice: Field = { key: 'orifice_mm', words: 'tester’s orifice', quantity: 'length', start: 1, optional: true }
const dead: Field = {
  key: 'dead_volume_cc',
  words: 'hose ahead of the check valve',
  quantity: 'volume',
  start: 0,
  optional: true,
}

export const tools: Tool[] = [
  {
    sum: 'leak',
    title: 'Leak hole',
    fields: [supply, held, orifice, air],
    results: [
      { key: 'leak_pct', words: 'leak, of the supply', quantity: 'percent' },
      { key: 'hole_mm', words: 'like a hole of', quantity: 'length' },
      { key: 'reference_leak_pct', words: 'on 100 psi, 1 mm, at sea level', quantity: 'percent' },
    ],
    says: 'Some air always passes the rings. Where it comes out matters as much as how much: listen.',
    caution: 'Raise the air slowly, never above the tester’s rating.',
  },
  {
    sum: 'two-testers',
    title: 'Two testers',
    fields: [
      supply,
      held,
      orifice,
      { key: 'other_supply_kpa', words: 'other tester’s supply', quantity: 'pressure', start: 551.581 },
      { key: 'other_orifice_mm', words: 'other tester’s orifice', quantity: 'length', start: 1.5 },
      air,
    ],
    results: [
      { key: 'leak_pct', words: 'this tester shows', quantity: 'percent' },
      { key: 'other_leak_pct', words: 'the other shows', quantity: 'percent' },
      { key: 'other_held_kpa', words: 'its held dial', quantity: 'pressure' },
      { key: 'hole_mm', words: 'the one hole behind both', quantity: 'length' },
    ],
    says: 'One leak, two percentages. Compare holes, not testers.',
  },
  {
    sum: 'cranking',
    title: 'Cranking pressure',
    fields: [bore, stroke, rod, ratio, closes, air, dead],
    results: [
      { key: 'low_kpa', words: 'low', quantity: 'pressure' },
      { key: 'mid_kpa', words: 'middle', quantity: 'pressure' },
      { key: 'high_kpa', words: 'high', quantity: 'pressure' },
    ],
    band: ['low_kpa', 'mid_kpa', 'high_kpa'],
    says: 'A band, for heat and speed differ. What fuel so much pressure wants is a question for the builder of the engine.',
  },
  {
    sum: 'ratio',
    title: 'Ratio from a reading',
    fields: [
      { key: 'gauge_kpa', words: 'the gauge reads', quantity: 'pressure', start: 1289 },
      bore,
      stroke,
      rod,
      closes,
      air,
      dead,
    ],
    results: [
      { key: 'low_ratio', words: 'low', quantity: 'ratio' },
      { key: 'mid_ratio', words: 'middle', quantity: 'ratio' },
      { key: 'high_ratio', words: 'high', quantity: 'ratio' },
    ],
    band: ['low_ratio', 'mid_ratio', 'high_ratio'],
    says: 'For a sound cylinder. A worn one reads lower, and would pass for a lower ratio.',
  },
  {
    sum: 'oil-gain',
    title: 'Oil’s own share',
    fields: [bore, stroke, rod, ratio, closes, { key: 'oil_cc', words: 'oil put in', quantity: 'volume', start: 5 }],
    results: [{ key: 'gain_pct', words: 'every cylinder rises by up to', quantity: 'percent' }],
    says: 'Oil takes up room in the chamber. Only a rise beyond this, and beyond the other cylinders’, is sealing.',
    caution: 'Never oil a diesel without care: it can fire on it. Crank a wet cylinder clear before it is started.',
  },
  {
    sum: 'piston-push',
    title: 'Piston push',
    fields: [
      supply,
      bore,
      stroke,
      rod,
      { key: 'deg_from_tdc', words: 'crank off TDC by', quantity: 'angle', start: 5 },
      { key: 'handle_mm', words: 'bar on the bolt', quantity: 'length', start: 300 },
    ],
    results: [
      { key: 'handle_n', words: 'at the end of the bar', quantity: 'force' },
      { key: 'torque_nm', words: 'on the crank', quantity: 'torque' },
      { key: 'force_n', words: 'on the piston', quantity: 'force' },
    ],
    caution:
      'Every tool off the crank bolt before air goes in, or the bar held where you control it. Stand clear of its arc.',
  },
  {
    sum: 'sea-level',
    title: 'Altitude',
    fields: [
      { key: 'gauge_kpa', words: 'the gauge reads', quantity: 'pressure', start: 1103 },
      { key: 'ambient_kpa', words: 'air pressure there', quantity: 'air', start: 83.8 },
    ],
    results: [{ key: 'sea_level_kpa', words: 'at sea level', quantity: 'pressure' }],
    says: 'An engine makes a pressure ratio, so its reading goes with the air.',
  },
  {
    sum: 'ambient',
    title: 'Air at a height',
    fields: [{ key: 'altitude_m', words: 'altitude', quantity: 'height', start: 1600, from: (e) => e.altitude_m }],
    results: [{ key: 'ambient_kpa', words: 'standard air pressure', quantity: 'air' }],
    says: 'A mile up costs about a sixth of every reading.',
  },
  {
    sum: 'stroke',
    title: 'Stroke by rod and marks',
    fields: [
      { key: 'distance_mm', words: 'between the marks', quantity: 'length', start: 94.2 },
      { key: 'plug_angle_deg', words: 'plug hole to bore', quantity: 'angle', start: 15 },
      { ...bore, start: 101 },
      { key: 'cylinders', words: 'cylinders', quantity: 'count', start: 8, from: (e) => e.layout.banks?.flat().length },
    ],
    results: [
      { key: 'stroke_mm', words: 'stroke', quantity: 'length' },
      { key: 'displacement_cc', words: 'displacement', quantity: 'volume' },
    ],
    says: 'Is it the big crank that was paid for?',
  },
  {
    sum: 'evenness',
    title: 'Evenness',
    fields: [
      {
        key: 'readings_kpa',
        words: 'readings, apart by spaces',
        quantity: 'pressure',
        start: [1186, 1179, 1082, 1193],
      },
    ],
    results: [
      { key: 'spread_pct_of_highest', words: 'spread, of the highest', quantity: 'percent' },
      { key: 'spread', words: 'spread', quantity: 'pressure' },
      { key: 'lowest_pct_of_highest', words: 'lowest, of the highest', quantity: 'percent' },
    ],
  },
  {
    sum: 'repeatability',
    title: 'Repeatability',
    fields: [
      {
        key: 'groups_kpa',
        words: 'pulls of one cylinder a line',
        quantity: 'pressure',
        start: [
          [1186, 1193],
          [1103, 1124, 1110],
          [1179, 1179],
        ],
      },
    ],
    results: [
      { key: 'sd_kpa', words: 'standard deviation of a pull', quantity: 'pressure' },
      { key: 'repeatability_limit_kpa', words: 'two pulls further apart are suspicious', quantity: 'pressure' },
    ],
  },
  {
    sum: 'rotor',
    title: 'Rotor faces',
    fields: [
      { key: 'pulses', words: 'pulses counted', quantity: 'count', start: 25 },
      { key: 'seconds', words: 'in', quantity: 'time', start: 6.2 },
      { key: 'held_peak_kpa', words: 'held peak', quantity: 'pressure', start: 731 },
      { key: 'face_pulses_kpa', words: 'three pulses in a row', quantity: 'pressure', start: [676, 655, 690] },
      { ...air, start: 101.3 },
    ],
    results: [
      { key: 'rpm', words: 'cranked at', quantity: 'speed' },
      { key: 'faces_kpa', words: 'faces as read', quantity: 'pressure' },
      { key: 'faces_at_250_kpa', words: 'at 250 rpm and sea level, an estimate', quantity: 'pressure' },
    ],
    says: 'Without the maker’s table the step to 250 rpm is an estimate.',
  },
]
