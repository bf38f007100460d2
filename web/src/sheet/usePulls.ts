import { computed, watch } from 'vue'
import type { Schemas } from '@/api/client'
import type { Work } from '@/composables/useSheet'
import { useRow } from './useRow'

export type Mode = 'dry' | 'wet'

/** The dry or the wet part of a sheet: which cylinder is cranked, and its readings. */
export function usePulls(work: Work, mode: Mode, entering: () => boolean, at?: number) {
  const { sheet } = work
  // Any cylinder may be oiled; those that are asked for, and those that were, come first.
  const cells = computed(() => {
    if (mode === 'dry') return sheet.value?.cells ?? []
    const wet = sheet.value?.wet ?? []
    const first = (c: (typeof wet)[number]) => c.asked || c.pulls.length > 0
    return [...wet.filter(first), ...wet.filter((c) => !first(c))]
  })
  const prompt = computed(() => (mode === 'dry' ? sheet.value?.prompt : sheet.value?.wet_prompt))
  const last = computed(() => (mode === 'dry' ? sheet.value?.last : sheet.value?.wet_last))
  const order = computed(() => cells.value.map((c) => c.cylinder))
  // A reading may be seen on the sheet, by news from the server, before the answer to it is here: it counts once.
  const kept = computed(() => new Set(cells.value.flatMap((c) => c.pulls.map((p) => p.key))))
  const waiting = computed(() => work.waiting('pull').filter((e) => e.body.mode === mode && !kept.value.has(e.id)))
  const waitingFor = (cylinder: number) => waiting.value.filter((e) => e.body.cylinder === cylinder)

  const row = useRow({
    order: () => order.value,
    asked: () => prompt.value?.cylinder ?? 0,
    waits: () => waiting.value.length > 0,
    // While cut off: as many readings each as the protocol asks for.
    enough: (c) => {
      const cell = cells.value.find((x) => x.cylinder === c)!
      const read = cell.pulls.filter((p) => !p.struck).length + waitingFor(c).length
      return cell.settled || read >= (sheet.value?.enough ?? 0)
    },
    entering,
    rest: () => order.value.at(mode === 'dry' ? -1 : 0) ?? 0,
    at: cells.value.some((c) => c.cylinder === at) ? at : undefined,
  })
  // A pick is for one reading. What is being typed stays where it is.
  watch(last, () => (row.picked.value = undefined))

  function pull(value: number, unit: Schemas['PullBody']['unit'], more: Partial<Schemas['PullBody']>) {
    const cylinder = row.current.value
    row.picked.value = undefined
    return work.enter('pull', { cylinder, mode, value, unit, tester: sheet.value?.session.gauge, ...more })
  }
  return { ...row, cells, prompt, last, waiting, waitingFor, pull }
}
