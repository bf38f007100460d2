// @vitest-environment jsdom
import { mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import DialMarks from './DialMarks.vue'
import type { Marks } from './useFilm'

const known: Marks = {
  centre: [100, 80],
  points: [
    { at: [60, 120], value: 0 },
    { at: [140, 40], value: 200 },
  ],
  unit: 'bar',
}
const props = { picture: '', width: 200, height: 160, unit: 'psi', gauge: 'g', does: 'Read it' }

/** Taps the picture, which stands on the page as large as it is. */
async function tap(on: ReturnType<typeof mount>, x: number, y: number) {
  const picture = on.get('[data-mark-picture]')
  picture.element.getBoundingClientRect = () => ({ left: 0, top: 0, width: 200, height: 160 }) as DOMRect
  await picture.trigger('click', { clientX: x, clientY: y })
}

describe('the marks of a dial', () => {
  beforeEach(() => localStorage.clear())

  it('are taken as they were found, where the dial is known', async () => {
    const on = mount(DialMarks, { props })
    expect(on.get('[data-mark-asks]').text()).toContain('Tap the middle')
    await on.setProps({ known })
    expect(on.get('[data-mark-asks]').text()).toContain('marked before')
    expect(on.findAll('text').map((t) => t.text())).toEqual(['0', '200'])
    await on.get('[data-marked]').trigger('click')
    expect(on.emitted('marked')).toEqual([[known, false]])
  })

  it('begin again where somebody taps on the middle instead, and are then by hand', async () => {
    const on = mount(DialMarks, { props: { ...props, known } })
    await tap(on, 90, 70)
    expect(on.emitted('middle')).toEqual([[[90, 70]]])
    expect(on.find('[data-marked]').exists()).toBe(false)
    await tap(on, 50, 110)
    await tap(on, 130, 30)
    const fields = on.findAll('label input')
    await fields[0]!.setValue('0')
    await fields[1]!.setValue('150')
    await on.get('[data-marked]').trigger('click')
    const [marks, byHand] = on.emitted('marked')![0] as [Marks, boolean]
    expect(byHand).toBe(true)
    expect(marks.points.map((p) => p.value)).toEqual([0, 150])
  })

  it('that are found late do not take the place of those that are being tapped', async () => {
    const on = mount(DialMarks, { props })
    await tap(on, 90, 70)
    await tap(on, 50, 110)
    await on.setProps({ known })
    expect(on.get('[data-mark-asks]').text()).not.toContain('marked before')
  })

  it('that are not even say which figure is missing', async () => {
    const on = mount(DialMarks, { props })
    for (const x of [90, 50, 130]) await tap(on, x, 70)
    await on.get('[data-marked]').trigger('click')
    expect(on.get('[role=alert]').text()).toContain('figure')
    expect(on.emitted('marked')).toBeUndefined()
  })
})
