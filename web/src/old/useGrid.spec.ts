// @vitest-environment jsdom
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp, nextTick } from 'vue'
import { expect, test, vi } from 'vitest'
import { emptyRow, type Row } from './grid'

const told = vi.hoisted(() => [] as string[])
const slow = vi.hoisted(() => [] as (() => void)[])
vi.mock('@/api/client', () => ({
  ask: (answer: unknown) => answer,
  api: {
    GET: () => ({ cylinders: [{ cylinder: 1 }], rows: [] }),
    // Every reading is answered when the test says so, with an entry that carries the date it was asked of.
    POST: (_: string, { body }: { body: { rows: Row[] } }) =>
      new Promise((resolve) =>
        slow.push(() =>
          resolve({ entries: [{ row: 'r', kind: 'test', body: body.rows[0]!.date }], tests: [], faults: [] }),
        ),
      ),
  },
}))
vi.mock('@/outbox/useOutbox', () => ({
  drop: () => undefined,
  tellAll: (entries: { body: string }[]) => {
    told.push(...entries.map((e) => e.body))
    return entries.map(() => ({ is: 'kept' }))
  },
}))

test('what is kept is what stands in the grid, however many readings overtake each other', async () => {
  const { useGrid } = await import('./useGrid')
  let grid: ReturnType<typeof useGrid>
  createApp({ setup: () => ((grid = useGrid('siskin')), () => null) })
    .use(VueQueryPlugin)
    .mount(document.createElement('div'))
  await vi.waitFor(() => expect(grid.page.value).toBeTruthy())
  const type = (date: string) => grid.put([{ ...emptyRow('r', 1), date }])
  type('2190-04-02')
  await vi.waitFor(() => expect(slow).toHaveLength(1))
  slow[0]!()
  await vi.waitFor(() => expect(grid.result.value).toBeTruthy())

  // Mended and kept at once: the reading of the pause after typing starts while that of the keeping is under way.
  type('2019-04-02')
  await nextTick()
  const keeping = grid!.keep()
  await vi.waitFor(() => expect(slow).toHaveLength(3))
  slow[1]!()
  await keeping
  expect(told).toEqual(['2019-04-02'])
})
