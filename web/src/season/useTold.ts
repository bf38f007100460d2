import { ref } from 'vue'
import type { Problem } from '@/api/client'
import { problemOf } from '@/composables/useSheet'
import { drop, type Outcome } from '@/outbox/useOutbox'

/** What a dialog enters: a refusal is shown at its field, and isn't kept to be entered later. */
export function useTold() {
  const problem = ref<Problem>()
  /** Whether all of it was taken. */
  async function told(of: Promise<Outcome[]>): Promise<boolean> {
    const refused = (await of).filter((o) => o.is === 'refused')
    for (const one of refused) await drop(one.entry.id)
    problem.value = refused[0] && problemOf(refused[0])
    return !refused.length
  }
  return { problem, told }
}
