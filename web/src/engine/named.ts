import type { Schemas } from '@/api/client'

type Preset = Schemas['Preset']

/** A layout by the name that people have for it: v6, i4, flat 6, radial 9, single, rotary 2. */
export function layoutNamed(text: string, presets: Preset[]): { preset: Preset } | { rotors: number } | undefined {
  const [, letters = '', digits = ''] = /^([a-z]*)[\s-]*(\d*)$/.exec(text.trim().toLowerCase()) ?? []
  if (letters === '') return undefined
  const n = digits === '' && 'single'.startsWith(letters) ? 1 : Number(digits)
  if (letters.length > 2 && 'rotary'.startsWith(letters)) return n >= 1 && n <= 6 ? { rotors: n } : undefined
  const word = (p: Preset) => (p.group === 'vee' ? 'v' : p.group)
  const preset = presets.find((p) => word(p).startsWith(letters) && p.layout.banks!.flat().length === n)
  return preset && { preset }
}
