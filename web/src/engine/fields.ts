import { words as constants } from '@/api/constants.gen'
import type { Schemas } from '@/api/client'
import { sayer } from '@/words/say'
import texts from '@/words/en/engine-form.json'

const says = sayer(texts)
const oneOf = constants.Engine

type Engine = Schemas['Engine']
export type Figure =
  'bore_mm' | 'stroke_mm' | 'rod_mm' | 'compression_ratio' | 'intake_closes_abdc_deg' | 'altitude_m' | 'displacement_cc'
export type Choice = 'kind' | 'duty' | 'fuel' | 'fuelling' | 'induction' | 'meter_unit' | 'rotation' | 'ring_pack'

/** The figures of an engine, each with its label and unit; what they may be, the core says when they are handed in. */
export const figures: { key: Figure & keyof Engine; label: string; unit?: string }[] = [
  { key: 'bore_mm', label: says('bore'), unit: 'mm' },
  { key: 'stroke_mm', label: says('stroke'), unit: 'mm' },
  { key: 'rod_mm', label: says('rod'), unit: 'mm' },
  { key: 'compression_ratio', label: says('compression-ratio') },
  { key: 'intake_closes_abdc_deg', label: says('intake-closes-after-bdc') },
  { key: 'displacement_cc', label: says('displacement'), unit: 'cc' },
  { key: 'altitude_m', label: says('altitude'), unit: 'm' },
]

/** What is chosen from words, which are the core's. A rotary has neither kind nor rings to choose. */
export const choices: { key: Choice & keyof Engine; label: string; of: readonly string[]; piston?: boolean }[] = [
  { key: 'duty', label: says('used-for'), of: oneOf.duty },
  { key: 'meter_unit', label: says('running-hours-or-distance'), of: oneOf.meter_unit },
  { key: 'kind', label: says('kind'), of: oneOf.kind.filter((k) => k !== 'rotary'), piston: true },
  { key: 'fuel', label: says('fuel'), of: oneOf.fuel },
  { key: 'fuelling', label: says('fuel-system'), of: oneOf.fuelling },
  { key: 'induction', label: says('induction'), of: oneOf.induction },
  { key: 'rotation', label: says('rotation'), of: oneOf.rotation },
  { key: 'ring_pack', label: says('rings'), of: oneOf.ring_pack, piston: true },
]
