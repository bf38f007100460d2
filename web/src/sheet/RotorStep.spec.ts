// @vitest-environment jsdom
import 'fake-indexeddb/auto'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { Work } from '@/composables/useSheet'
import RotorStep from './RotorStep.vue'
import { dice, press } from './pressing'

vi.mock('@/outbox/useOutbox', async (original) => ({ ...(await original<object>()), drop: () => Promise.resolve() }))

type Body = Schemas['PullBody']

/** A twin rotary that keeps what is entered, and refuses a held peak of 1. */
function bench() {
  const kept: Body[][] = []
  const struck: string[] = []
  const sheet = ref<Schemas['Sheet']>()
  const show = () => {
    const read = (r: number) => kept.some((film) => film[0]!.rotor === r)
    const next = [1, 2].find((r) => !read(r)) ?? 0
    sheet.value = {
      rotors: [1, 2].map((rotor) => ({ rotor, place: `place ${rotor}`, settled: read(rotor), faces: [], says: '' })),
      prompt: { cylinder: next, say: next ? `Next: rotor ${next}` : 'All rotors are read.', again: false },
      unit: 'psi',
      cells: [],
      wet: [],
      leak: [],
      warnings: [],
      engine: { name: 'Siskin', kind: 'rotary', layout: { rotors: 2 } },
      session: { id: 's1', date: '2031-02-14', open: true, observations: [] },
      crank: { about_s: 5, most_s: 10, rest_factor: 3 },
      verdict: { id: 's1', state: 'steady', sentence: '', cylinders: [], causes: [], caveats: [] },
    } as unknown as Schemas['Sheet']
  }
  show()
  const work = {
    engine: 'siskin',
    session: 's1',
    draft: ref(true),
    sheet,
    waiting: () => [],
    enterAll: (kind: string, bodies: Body[]) => {
      if (kind !== 'pull') return Promise.resolve([])
      const bad = bodies[0]!.flicker?.held === 1
      if (!bad) kept.push(bodies)
      show()
      const refused = { is: 'refused', answer: { faults: [{ at: '/flicker/held', what: 'below its pulses' }] } }
      return Promise.resolve(
        bodies.map((_, i) => ({ entry: { id: `k${i}` }, ...(bad && i === 0 ? refused : { is: 'kept' }) })),
      )
    },
    strike: (id: string) => Promise.resolve(struck.push(id)),
  } as unknown as Work
  return { work, kept, struck }
}

async function open(work: Work) {
  sessionStorage.clear()
  const page = mount(RotorStep, { global: { plugins: [VueQueryPlugin] }, props: { work }, attachTo: document.body })
  await nextTick()
  const value = (name: string) => page.find<HTMLInputElement>(`[name=${name}]`).element.value
  return { page, value, shown: () => Number(page.find('[data-current]').text()) }
}
const film = async (...figures: string[]) => {
  for (const f of figures) for (const key of [...f, 'Enter']) await press(key)
}

describe('the faces of a rotary', () => {
  it('go from field to field, and are entered as one film', async () => {
    const { work, kept } = bench()
    const { page, shown } = await open(work)
    await film('110', '25', '100', '99', '101')
    expect(kept[0]!.map((b) => [b.rotor, b.face, b.beats, b.seconds, b.flicker])).toEqual([
      [1, 1, 25, 5, { pulse: 100, highest: 101, held: 110 }],
      [1, 2, 25, 5, { pulse: 99, highest: 101, held: 110 }],
      [1, 3, 25, 5, { pulse: 101, highest: 101, held: 110 }],
    ])
    expect(shown()).toBe(2)
    page.unmount()
  })
  it('are those that were typed, in their order, also after the way of reading was changed', async () => {
    const { work, kept } = bench()
    const { page, shown } = await open(work)
    await press('f') // each face shown
    await film('117', '116', '118')
    await press('Enter') // once too often: no face is passed over by it
    expect(kept[0]?.map((b) => [b.rotor, b.face, b.value])).toEqual([
      [1, 1, 117],
      [1, 2, 116],
      [1, 3, 118],
    ])
    expect(shown()).toBe(2)
    // What is begun in one way stays there, and holds up nothing in the other.
    await press('f')
    await film('120')
    await press('f')
    await film('110', '111', '112')
    expect(kept[1]?.map((b) => b.value)).toEqual([110, 111, 112])
    await press('Enter')
    expect(page.emitted('done')).toHaveLength(1)
    page.unmount()
  })
  it('come back marked where one is refused, and those that were kept of the film go with it', async () => {
    const { work, struck } = bench()
    const { page, value, shown } = await open(work)
    await film('1', '25', '100', '99', '101')
    for (let i = 0; i < 8; i++) await nextTick()
    expect(page.find('[data-fault]').text()).toBe('held peak: below its pulses')
    expect([value('held'), value('face3'), shown()]).toEqual(['1', '101', 1])
    expect(struck).toEqual(['k1', 'k2'])
    page.unmount()
  })
  it('are never entered but by Enter, nor of another rotor than they were typed for', async () => {
    const keys = [
      ...'0123456789,.',
      ...['Enter', 'Enter', 'Enter', 'Enter', 'Enter', 'Backspace', 'ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'],
      ...[' ', 'f', 'u', 'x', 'y', 'Tab', 'PageDown', '-', 'Escape'],
    ]
    let films = 0
    for (let seed = 1; seed <= 6; seed++) {
      const { work, kept } = bench()
      const { page, shown } = await open(work)
      const roll = dice(seed)
      const typed = () => page.findAll<HTMLInputElement>('[data-figure]').map((f) => f.element.value)
      const some = () => page.findAll<HTMLInputElement>('[name^=face]').some((f) => f.element.value !== '')
      let begunAt = 0
      for (let i = 0; i < 400; i++) {
        const before = { had: kept.length, some: some(), typed: typed().join() }
        const key = keys[roll(keys.length)]!
        await press(key)
        const what = `seed ${seed}, step ${i}, ${key}: ${before.typed} became ${typed().join()}`
        if (kept.length > before.had) {
          expect(key, what).toBe('Enter')
          expect(kept.at(-1)![0]!.rotor, what).toBe(begunAt)
          films++
        } else if (before.some && some()) expect(shown(), what).toBe(begunAt)
        if (!before.some && some()) begunAt = shown()
      }
      page.unmount()
    }
    expect(films).toBeGreaterThan(5)
  }, 120_000)
})
