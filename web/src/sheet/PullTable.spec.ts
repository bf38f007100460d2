// @vitest-environment jsdom
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import PullTable from './PullTable.vue'

const cells = [
  {
    cylinder: 1,
    place: 'front',
    settled: true,
    reading: { value: 151, unit: 'psi' },
    pulls: [
      { value: 90, unit: 'psi', key: 'a', struck: 'throttle' },
      { value: 151, unit: 'psi', key: 'b' },
    ],
  },
  {
    cylinder: 2,
    place: 'rear',
    settled: false,
    reading: { value: 148, unit: 'psi' },
    pulls: [{ value: 148, unit: 'psi', key: 'c' }],
  },
  { cylinder: 3, place: 'rear', settled: false, pulls: [{ value: 10.2, unit: 'bar', key: 'd' }] },
] as unknown as Schemas['Cell'][]

describe('PullTable', () => {
  const table = mount(PullTable, {
    props: {
      cells,
      unit: 'psi',
      current: 2,
      waiting: (c: number) =>
        (c === 2 ? [{ id: 'w', body: { value: 147, unit: 'psi' } }] : []) as unknown as Schemas['pull_entry'][],
    },
  })

  it('shows struck pulls struck through, with the reason', () => {
    expect(table.get('s').text()).toBe('90')
    expect(table.get('button:has(s)').attributes('title')).toBe('throttle')
  })

  it('tells a settled reading from one that wants another pull', () => {
    const reads = table.findAll('tbody tr').map((r) => r.findAll('td')[1]!.text())
    expect(reads).toEqual(['151', '148?', ''])
  })

  it('says the unit of a reading that is in another than its column', () => {
    expect(table.get('[data-cylinder="3"] button').text()).toBe('10.2 bar')
    expect(table.get('[data-cylinder="2"] button').text()).toBe('148')
  })

  it('shows what is still waiting to be sent', () => {
    expect(table.get('[data-cylinder="2"]').text()).toContain('147…')
  })

  it('asks what is to be done with a reading that is tapped, and stays with its cylinder', async () => {
    const before = table.emitted('pick')?.length ?? 0
    await table.get('[data-cylinder="2"] button').trigger('click')
    expect(table.emitted('reading')).toEqual([[{ value: 148, unit: 'psi', key: 'c' }, 2]])
    expect(table.emitted('pick')?.length ?? 0).toBe(before)
  })

  it('goes to the cylinder that is tapped', async () => {
    await table.get('[data-cylinder="1"]').trigger('click')
    expect(table.emitted('pick')).toEqual([[1]])
  })
})
