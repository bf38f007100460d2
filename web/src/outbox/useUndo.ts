import { ref } from 'vue'
import { drop, outbox, tell } from './useOutbox'
import { forget, last, type Mine } from './mine'

/** What was undone last, and the strike that did it, for taking it back. */
const undone = ref<{ words: string; engine?: string; strike?: string }>()
const fault = ref('')

/** Undoes what this device entered last, on any page: one that still waits is dropped, one that is kept is struck. */
async function undo() {
  const one = last()
  fault.value = ''
  if (!one) {
    undone.value = undefined
    fault.value = 'Nothing of this device is left to undo.'
    return
  }
  if (outbox.all.value.some((w) => w.entry.id === one.id)) {
    await drop(one.id)
    undone.value = { words: one.words }
    return
  }
  const { entry, answer } = await strike(one)
  forget(entry.id)
  if (answer?.result === 'refused') {
    await drop(entry.id)
    fault.value = `Not undone: ${answer.why ?? ''}`
    return
  }
  undone.value = { words: one.words, engine: one.engine, strike: entry.id }
}

const strike = (one: Mine) => tell({ kind: 'strike', engine: one.engine, body: { entry: one.id, why: 'undone' } })

/** Takes the undoing back. */
async function redo() {
  const u = undone.value
  undone.value = undefined
  if (!u?.strike) return
  const { entry } = await tell({
    kind: 'strike',
    engine: u.engine,
    body: { entry: u.strike, why: 'undone by mistake' },
  })
  forget(entry.id)
}

const dismiss = () => {
  undone.value = undefined
  fault.value = ''
}

export const useUndo = () => ({ undone, fault, undo, redo, dismiss })
