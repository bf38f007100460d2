import { shallowRef } from 'vue'

/** What is asked before an entry is kept that may be a slip of the hand, and how it is answered. */
interface Question {
  why: string
  answer: (itIsSo: boolean) => void
}

export const question = shallowRef<Question>()

/** Asks the person; true where it is so. One question at a time: another that comes meanwhile stays with what is refused. */
export function askPerson(why: string): Promise<boolean> {
  if (question.value || typeof document === 'undefined') return Promise.resolve(false)
  return new Promise((resolve) => {
    question.value = {
      why,
      answer: (itIsSo) => {
        question.value = undefined
        resolve(itIsSo)
      },
    }
  })
}
