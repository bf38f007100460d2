import { ref } from 'vue'
import { sound } from '@/composables/useSound'
import { drop, type Outcome } from '@/outbox/useOutbox'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

/** Why an entry was refused, in the words of whoever refused it. */
export const whyNot = (o: Outcome) => o.answer?.why ?? says('not-saved')

/** Hands in the readings of a step; free says that nothing else is being typed by now. */
export function useEntering(free: () => boolean) {
  /** What was saved last, for the helper to hear. */
  const kept = ref('')

  /**
   * Waits for what was handed in. What is refused comes back into its field, marked; if another is being typed, it stays in the outbox.
   * Returns what was refused, and whether it came back.
   */
  async function handIn(going: Promise<Outcome[]>, words: string, comesBack: (refused: Outcome[]) => void) {
    const outcomes = await going
    const refused = outcomes.filter((o) => o.is === 'refused')
    kept.value = refused.length ? '' : words
    sound(refused.length || outcomes.some((o) => o.answer?.doubt) ? 'look' : 'kept')
    const back = refused.length > 0 && free()
    if (back) {
      comesBack(refused)
      for (const o of refused) await drop(o.entry.id)
    }
    return { outcomes, refused, back }
  }
  return { kept, handIn }
}
