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

  it('shows a leak where there is no reading yet', () => {
    expect(two).toMatchObject({ reading: undefined, change: undefined, leak: 12, state: 'act' })
  })
})
