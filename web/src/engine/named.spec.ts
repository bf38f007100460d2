import { expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { layoutNamed } from './named'

const preset = (group: string, ...banks: number[][]) =>
  ({ name: group, group, layout: { banks }, firings: [] }) as unknown as Schemas['Preset']
const presets = [
  preset('single', [1]),
  preset('inline', [1, 2, 3, 4]),
  preset('vee', [1, 3, 5], [2, 4, 6]),
  preset('flat', [1, 3, 5], [2, 4, 6]),
  preset('radial', [1, 2, 3, 4, 5, 6, 7, 8, 9]),
]
const groupOf = (text: string) => {
  const found = layoutNamed(text, presets)
  return found && ('preset' in found ? found.preset.group : found.rotors)
}

it('knows layouts by what people call them', () => {
  const called = {
    v6: 'vee',
    'V 6': 'vee',
    i4: 'inline',
    'Inline-4': 'inline',
    f6: 'flat',
    'flat 6': 'flat',
    r9: 'radial',
    single: 'single',
    s1: 'single',
    'rotary 2': 2,
    rot3: 3,
  }
  for (const [text, group] of Object.entries(called)) expect(groupOf(text), text).toBe(group)
})

it('knows nothing of others', () => {
  for (const text of ['', '6', 'v', 'v7', 'w16', 'rotary', 'rotary 9', 'r2', 'six', 'v6 twin'])
    expect(groupOf(text), text).toBeUndefined()
})
