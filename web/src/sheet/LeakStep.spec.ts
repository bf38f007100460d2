// @vitest-environment jsdom
import 'fake-indexeddb/auto'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { nextTick, ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { Work } from '@/composables/useSheet'
import LeakStep from './LeakStep.vue'
import { dice, press } from './pressing'

type Path = Schemas['Path']

/** The leak-down of a four that keeps at once what is entered, and asks for one each in firing order. */
function bench() {
  const entered: { cylinder: number; held: number; paths?: Path[] }[] = []
  const sheet = ref<Schemas['Sheet']>()
  const show = () => {
    const done = (c: number) => entered.filter((e) => e.cylinder === c)
    const order = [1, 3, 4, 2]
    const next = order.find((c) => !done(c).length) ?? 0
    sheet.value = {
      leak: order.map((cylinder) => ({
        cylinder,
        place: `place ${cylinder}`,
        say: `Bring ${cylinder} to TDC.`,
        beside: [cylinder === 1 ? 2 : cylinder - 1],
        attempts: done(cylinder).map((e, i) => ({
          key: `k${i}`,
          supply: 100,
          held: e.held,
          unit: 'psi',
          leak_pct: 100 - e.held,
          heard: '',
        })),
        leak_pct: done(cylinder).length ? 100 - done(cylinder).at(-1)!.held : undefined,
      })),
      leak_prompt: { cylinder: next, say: `Bring ${next} to TDC.`, again: false },
      leak_unit: 'psi',
      cells: [1, 2, 3, 4].map((cylinder) => ({ cylinder, place: '', pulls: [], settled: false })),
      wet: [],
      warnings: [],
      engine: { name: 'Siskin', kind: 'four-stroke', layout: { banks: [[1, 2, 3, 4]] } },
      session: { id: 's1', date: '2031-02-14', open: true },
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
    enter: (_: string, body: { cylinder: number; held: number; paths?: Path[] }) => {
      entered.push(body)
      show()
      return Promise.resolve({ is: 'kept', entry: { id: 'k' } })
    },
  } as unknown as Work
  return { work, entered }
}

const sheetOf = (page: ReturnType<typeof mount>) => ({
  held: () => page.findAll<HTMLInputElement>('[data-figure]')[1]!.element,
  shown: () => Number(page.find('[data-current]').text()),
})

describe('the places', () => {
  it('are not listened again when the last is off, and listened, nothing only where it is said', async () => {
    const { work, entered } = bench()
    const page = mount(LeakStep, { global: { plugins: [VueQueryPlugin] }, props: { work }, attachTo: document.body })
    await nextTick()
    for (const key of ['e', 'e', '9', '5', 'Enter']) await press(key)
    expect(entered).toHaveLength(0) // it asks
    await press('Enter')
    expect(entered[0]!.paths).toBeUndefined()
    for (const key of ['9', '6', 'l', 'Enter']) await press(key)
    expect(entered[1]!.paths).toEqual([])
    for (const key of ['9', '7', 'l', 'l', 'e', '3', 'Enter']) await press(key)
    expect(entered[2]!.paths).toEqual([{ where: 'exhaust', level: 3 }])
    expect(entered.map((e) => [e.cylinder, e.held])).toEqual([
      [1, 95],
      [3, 96],
      [4, 97],
    ])
    await press('c')
    await press('ArrowRight')
    expect(sheetOf(page).shown()).toBe(2) // a place that was heard stays with its cylinder
    page.unmount()
  })
})

describe('the leak-down under any keys', () => {
  it('loses no figure, and keeps each under the cylinder that it was typed for', async () => {
    const keys = [
      ...'0123456789,.',
      ...['Enter', 'Enter', 'Enter', 'Enter', 'Backspace', 'ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown', 'Home'],
      ...[' ', 'c', 'i', 'e', 'w', 'n', 'p', 'l', 's', 's', 'b', 'u', 'y', 'PageDown', 'PageUp', 'Escape', 'Tab', '-'],
    ]
    let kept = 0
    for (let seed = 1; seed <= 8; seed++) {
      sessionStorage.clear() // what was half typed before is of another sheet
      const { work, entered } = bench()
      const page = mount(LeakStep, { global: { plugins: [VueQueryPlugin] }, props: { work }, attachTo: document.body })
      await nextTick()
      const { held, shown } = sheetOf(page)
      const roll = dice(seed)
      let typed = ''
      let begunAt = 0
      for (let i = 0; i < 500; i++) {
        if (roll(40) === 0) page.find<HTMLElement>('[data-keep]').element.focus()
        if (roll(20) === 0) held().focus()
        const key = keys[roll(keys.length)]!
        const had = entered.length
        await press(key)
        const now = held().value
        const what = `seed ${seed}, step ${i}, ${key}: “${typed}” became “${now}” at ${shown()}`
        if (entered.length > had) {
          expect(key, what).toBe('Enter')
          expect(entered.at(-1)!.cylinder, what).toBe(begunAt)
          expect(entered.at(-1)!.held, what).toBe(Number(typed.replace(',', '.')))
        } else if (now !== typed && key !== 'Escape') {
          expect(Math.abs(now.length - typed.length), what).toBe(1)
          expect(now.startsWith(typed) || typed.startsWith(now), what).toBe(true)
        }
        if (typed !== '' && now !== '') expect(shown(), what).toBe(begunAt)
        if (typed === '' && now !== '') begunAt = shown()
        typed = now
      }
      kept += entered.length
      page.unmount()
    }
    expect(kept).toBeGreaterThan(20)
  }, 120_000)
})
