import { ref } from 'vue'
import type { Work } from '@/composables/useSheet'

/** A reading that is asked about: struck already, and the cylinders that it may have been of where it was pointed at. */
interface Marking {
  key: string
  words: string
  cylinder: number
  struck?: string
  others?: number[]
}

/** What is done with a reading afterwards: it is struck, counted again, or moved to the cylinder that it was of. */
export function useMarks(work: Work, back: (cylinder: number) => void) {
  const marking = ref<Marking>()

  function ask(reading: { key?: string; struck?: string }, words: string, cylinder: number, others?: number[]) {
    if (!reading.key) return // it is on its way still
    marking.value = {
      key: reading.key,
      words,
      cylinder,
      struck: reading.struck,
      others: others?.filter((c) => c !== cylinder),
    }
  }
  async function mark(how: (key: string) => Promise<unknown>) {
    const { key, cylinder } = marking.value!
    marking.value = undefined
    await how(key)
    back(cylinder)
  }
  return {
    marking,
    ask,
    leave: () => (marking.value = undefined),
    strike: (why: string) => mark((key) => work.strike(key, why)),
    unstrike: () => mark(work.unstrike),
    move: (to: number) => mark((key) => work.move(key, to)),
  }
}

export type Marks = ReturnType<typeof useMarks>
