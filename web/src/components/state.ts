import type { State } from '@/api/client'

/** Punch marks, as a machinist marks parts: the state can be told without its colour. */
export const punches: Record<State, number> = { steady: 0, retest: 0, watch: 1, act: 2, stop: 3 }

/** Whether a bore is filled with its state's colour, so that figures on it are light. */
export function filled(state: State): boolean {
  return inConcern(state)
}

/** Whether something is wrong that is watched, or acted upon. */
export const inConcern = (state: State | undefined): boolean => state !== undefined && punches[state] > 0
