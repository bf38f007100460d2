// @vitest-environment jsdom
import { describe, expect, it } from 'vitest'
import type { Sheet } from '@/composables/useSheet'
import { boresOf } from './bores'

const sheet = {
  cells: [
    { cylinder: 1, place: 'front', settled: true, reading: { value: 151, unit: 'psi' }, pulls: [] },
    { cylinder: 2, place: 'rear', settled: false, pulls: [] },
  ],
  leak: [{ cylinder: 2, leak_pct: 12 }, { cylinder: 1 }],
  verdict: {
    cylinders: [
      { cylinder: 1, state: 'steady', why: [], compression_change_pct: -0.34 },
      { cylinder: 2, state: 'act', why: ['leak up'] },
    ],
  },
} as unknown as Sheet

describe('boresOf', () => {
  const [one, two] = boresOf(sheet)

  it('shows what a cylinder reads and how it changed', () => {
    expect(one).toMatchObject({ reading: '151', change: '−0.3%', state: 'steady', leak: undefined })
  })

  it('shows of a rotor the lowest face, and all three', () => {
    const face = (face: number, value?: number) => ({ face, pulls: [], reading: value && { value, unit: 'kPa' } })
    const rotary = {
      ...sheet,
      rotors: [
        { rotor: 1, place: 'front', settled: true, faces: [face(1, 850), face(2, 830), face(3, 840)] },
        { rotor: 2, place: 'rear', settled: false, faces: [face(1), face(2), face(3)] },
      ],
    } as unknown as Sheet
    const [front, rear] = boresOf(rotary)
    expect(front).toMatchObject({ cylinder: 1, reading: '830', faces: ['850', '830', '840'], state: 'steady' })
    expect(rear).toMatchObject({ cylinder: 2, reading: undefined, faces: undefined, state: undefined })
  })

  it('shows a leak where there is no reading yet', () => {
    expect(two).toMatchObject({ reading: undefined, change: undefined, leak: 12, state: 'act' })
  })
})
