import { nanoid } from 'nanoid'
import { ref } from 'vue'

/**
 * Hands a form in. Its entry has a name from when the form opened, and whoever presses twice hands in one thing once: while it is under way
 * a second press does nothing, and after it the name is another only when the form says that it is done. What is wrong with it is shown last,
 * so that whoever sees it can hand it in again.
 */
export function useHandIn(hand: (id: string, done: () => void) => Promise<unknown>) {
  const id = ref(nanoid())
  const busy = ref(false)
  async function handIn() {
    if (busy.value) return
    busy.value = true
    try {
      await hand(id.value, () => (id.value = nanoid()))
    } finally {
      busy.value = false
    }
  }
  return { handIn, busy, id }
}
