// @vitest-environment jsdom
import 'fake-indexeddb/auto'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { Work } from '@/composables/useSheet'
import PullStep from './PullStep.vue'
import { dice, press } from './pressing'

type Cell = Schemas['Cell']

/** What the helper's screen is told, as soon as a step says it. */
const seats = vi.hoisted((): Record<string, unknown>[] => [])
vi.mock('./useSeat', () => ({ useSeat: (_: unknown, wants: () => Record<string, unknown>) => seats.push(wants()) }))

/** A sheet of a four that keeps at once what is entered, and asks for two pulls each, in order. */
function bench() {
  const entered: { cylinder: number; value: number }[] = []
  const cells: Cell[] = [1, 2, 3, 4].map((cylinder) => ({
    cylinder,
    place: `place ${cylinder}`,
    pulls: [],
    settled: false,
  }))
  const sheet = ref<Schemas['Sheet']>()
  const show = () => {
    const next = cells.find((c) => !c.settled)
    sheet.value = {
      cells: cells.map((c) => ({ ...c, pulls: [...c.pulls] })),
      prompt: { cylinder: next?.cylinder ?? 0, say: `next: ${next?.cylinder ?? 0}`, again: false },
      last: cells.flatMap((c) => c.pulls).findLast((p) => !p.struck)?.key,
      unit: 'psi',
      wet: [],
      leak: [],
      warnings: [],
      evenness: [],
      engine: { name: 'Siskin', kind: 'four-stroke', layout: { banks: [[1, 2, 3, 4]] } },
      session: { id: 's1', date: '2031-02-14', open: true },
      crank: { about_s: 5, most_s: 10, rest_factor: 3 },
      verdict: { id: 's1', state: 'steady', sentence: '', cylinders: [], causes: [], caveats: [] },
    } as unknown as Schemas['Sheet']
  }
  show()
  const of = (cylinder: number) => cells.find((c) => c.cylinder === cylinder)!
  const work = {
    engine: 'siskin',
    session: 's1',
    draft: ref(true),
    sheet,
    waiting: () => [],
    enter: (_: string, body: { cylinder: number; value: number }) => {
      entered.push({ cylinder: body.cylinder, value: body.value })
      const cell = of(body.cylinder)
      cell.pulls.push({ key: `k${entered.length}`, value: body.value, unit: 'psi' } as Cell['pulls'][number])
      cell.settled = cell.pulls.filter((p) => !p.struck).length >= 2
      show()
      return Promise.resolve({ is: 'kept', entry: { id: `k${entered.length}` } })
    },
    strike: (key: string) => {
      for (const c of cells) {
        for (const p of c.pulls) if (p.key === key) p.struck = 'taken back'
        c.settled = c.pulls.filter((p) => !p.struck).length >= 2
      }
      show()
      return Promise.resolve()
    },
    asRead: () => Promise.resolve(),
  } as unknown as Work
  return { work, entered, cells }
}

describe('the dry sheet under any keys', () => {
  it('loses no figure, and keeps each under the cylinder that it was typed for', async () => {
    const keys = [
      ...'01234567899,.',
      ...['Enter', 'Enter', 'Enter', 'Backspace', 'ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown', 'Home', 'End'],
      ...[' ', 'a', 'c', 'e', 'l', 'n', 'u', 'y', 'w', 'PageDown', 'PageUp', 'Escape', 'Tab', '-', '%'],
    ]
    let steps = 0
    for (let seed = 1; seed <= 10; seed++) {
      sessionStorage.clear() // what was half typed before is of another sheet
      const { work, entered } = bench()
      const page = mount(PullStep, {
        global: { plugins: [VueQueryPlugin] },
        props: { work, mode: 'dry' },
        attachTo: document.body,
      })
      await nextTick()
      const field = () => page.find<HTMLInputElement>('[data-figure]').element
      const shown = () => Number(page.find('[data-current]').text())
      const roll = dice(seed)
      let typed = ''
      let begunAt = 0
      for (let i = 0; i < 500; i++, steps++) {
        if (roll(40) === 0) page.find<HTMLElement>('[data-keep]').element.focus()
        if (roll(40) === 0) document.body.focus()
        if (roll(20) === 0) field().focus()
        const on = document.activeElement
        const key = keys[roll(keys.length)]!
        const had = entered.length
        await press(key)
        const now = field().value
        const what = `seed ${seed}, step ${i}, ${key} on ${on?.tagName}: “${typed}” became “${now}”`
        if (entered.length > had) {
          expect(key, what).toBe('Enter')
          expect(entered.at(-1), what).toEqual({ cylinder: begunAt, value: Number(typed.replace(',', '.')) })
        } else if (now !== typed && key !== 'Escape') {
          // A digit more or less, or a pull taken back into an empty field.
          const one = now.startsWith(typed) || typed.startsWith(now)
          expect(
            typed === '' ? key === 'Backspace' || now.length === 1 : one && Math.abs(now.length - typed.length) === 1,
            what,
          ).toBe(true)
        }
        if (typed !== '' && now !== '' && now !== typed) expect(shown(), what).toBe(begunAt)
        if (typed === '' && now !== '') begunAt = shown()
        if (typed !== '' && now === typed) expect(shown(), what).toBe(begunAt)
        typed = now
      }
      page.unmount()
    }
    expect(steps).toBe(5_000)
  }, 120_000)
})

describe('from the dry step to the wet one while the starter rests', () => {
  it('opens, and the helper is told to wait and how long, not that all is done', async () => {
    sessionStorage.clear()
    seats.length = 0
    const { work } = bench()
    const s = work.sheet.value!
    s.wet = s.cells.map((c) => ({ ...c, asked: false })) as never
    s.wet_prompt = { cylinder: 0, say: 'No cylinder is low.', again: false } as never
    // A run of ten seconds has just ended: by the sheet's factor the starter rests for thirty.
    s.cells[0]!.pulls = [
      { key: 'k0', value: 170, unit: 'psi', seconds: 10, at: new Date(Date.now() - 1000).toISOString() },
    ] as never
    const page = mount(PullStep, {
      global: { plugins: [VueQueryPlugin] },
      props: { work, mode: 'wet' },
      attachTo: document.body,
    })
    expect(page.find('[data-current]').exists()).toBe(true)
    expect(seats.at(-1)).toMatchObject({ do: 'wait' })
    expect(Number(seats.at(-1)!.rest_s)).toBeGreaterThan(0)
    page.unmount()
  })
})
