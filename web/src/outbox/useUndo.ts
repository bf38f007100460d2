import { ref } from 'vue'
import { drop, flush, outbox, tellAll, type Typed } from './useOutbox'
import { forget, last, type Mine } from './mine'
import { sayer } from '@/words/say'
import texts from '@/words/en/outbox.json'

const says = sayer(texts)

/** What was undone last, and the strikes that did it, for taking them back. */
const undone = ref<{ words: string; engine?: string; strikes: string[] }>()
const fault = ref('')

/** Undoes what this device did last, on any page: what still waits is dropped, what is kept is struck. One act is one thing to undo. */
async function undo() {
  const act = last()
  fault.value = ''
  if (act.length === 0) {
    undone.value = undefined
    fault.value = says('nothing-left-undo-device')
    return
  }
  // What is on its way may be kept already: only what is still here when that is over was never kept anywhere else.
  await flush()
  const waits = new Set(outbox.all.value.map((w) => w.entry.id))
  for (const one of act.filter((m) => waits.has(m.id))) await drop(one.id)
  const kept = act.filter((m) => !waits.has(m.id))
  const words = act.length === 1 ? act[0]!.words : says('more', { words: act.at(-1)!.words, n: act.length - 1 })
  const came = kept.length ? await tellAll(kept.map(strike)) : []
  for (const { entry } of came) forget(entry.id)
  const refused = came.filter((o) => o.is === 'refused')
  for (const { entry } of refused) await drop(entry.id)
  if (refused.length && refused.length === came.length) {
    fault.value = says('not-undone', { why: refused[0]!.answer?.why ?? '' })
    return
  }
  undone.value = {
    words,
    engine: act[0]!.engine,
    strikes: came.filter((o) => o.is !== 'refused').map((o) => o.entry.id),
  }
}

const strike = (one: Mine) => ({ kind: 'strike', engine: one.engine, body: { entry: one.id, why: 'undone' } }) as Typed

/** Takes the undoing back. */
async function redo() {
  const u = undone.value
  undone.value = undefined
  if (!u?.strikes.length) return
  const came = await tellAll(
    u.strikes.map(
      (entry) => ({ kind: 'strike', engine: u.engine, body: { entry, why: says('undone-mistake') } }) as Typed,
    ),
  )
  for (const { entry } of came) forget(entry.id)
}
const dismiss = () => {
  undone.value = undefined
  fault.value = ''
}

export const useUndo = () => ({ undone, fault, undo, redo, dismiss })
