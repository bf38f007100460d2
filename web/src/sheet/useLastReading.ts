import { computed, type Ref } from 'vue'
import type { Work } from '@/composables/useSheet'
import { forget, mineIn } from '@/outbox/mine'
import { drop } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'
import type { usePulls } from './usePulls'

const says = sayer(texts)

/** What this hand entered last: a reading that still waits, or one that is kept; else the last of the sheet. It can be taken back. */
export function useLastReading(work: Work, pulling: ReturnType<typeof usePulls>, fault: Ref<string>) {
  const one = computed(() => {
    const kept = pulling.cells.value.flatMap((c) =>
      c.pulls.flatMap((p) => (p.key && !p.struck ? [{ key: p.key, cylinder: c.cylinder, ...p, waits: false }] : [])),
    )
    const waits = pulling.waiting.value.map((e) => ({ ...e.body, key: e.id, waits: true }))
    const all = new Map([...kept, ...waits].map((p) => [p.key, p]))
    const mine = mineIn(work.engine, work.session, 'pull').findLast((id) => all.has(id))
    return all.get(mine ?? pulling.last.value ?? '')
  })
  /** Strikes it, or never sends it, and returns it, for its figure to stand in the field again. */
  async function takeBack() {
    const pull = one.value
    if (!pull) return undefined
    if (!work.sheet.value!.session.open) return void (fault.value = says('test-finished-reopen-undo-reading'))
    if (pull.waits) await drop(pull.key)
    else await work.strike(pull.key, says('undone'))
    forget(pull.key)
    return pull
  }
  return { one, takeBack }
}
