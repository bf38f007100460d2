import { unitAfter, type PressureUnit } from '@/composables/figure'
import { useKeys, type Key } from '@/composables/useKeys'

interface Step {
  /** What the digits write. */
  figure: string
  /** What is this step's alone, after the digits. */
  own?: Key[]
  enter: { does: string; run: () => unknown }
  space: { does: string; run: () => unknown }
  unit: { does: string; get: () => PressureUnit; set: (unit: PressureUnit) => void }
  strike: { does: string; run: () => void }
  back: { does: string; run: () => void }
  next: string
  previous: string
  leave: string
  digit: (key: string) => void
  focus: () => void
  move: (by: number) => void
  /** Clears what is typed; where nothing is, leaves the step. */
  clear: () => void
}

/** The keys that all steps of readings have, in the order that the help shows them in. */
export function useEntryKeys(step: Step) {
  useKeys([
    { keys: ['0…9'], does: step.figure },
    {
      keys: [...'0123456789.,'],
      does: '',
      run: (event) => {
        step.digit(event.key)
        step.focus()
      },
    },
    ...(step.own ?? []),
    { keys: ['Enter'], does: step.enter.does, run: () => void step.enter.run() },
    { keys: [' '], does: step.space.does, run: () => void step.space.run() },
    { keys: ['u'], does: step.unit.does, run: () => step.unit.set(unitAfter(step.unit.get())) },
    { keys: ['x'], does: step.strike.does, run: step.strike.run },
    { keys: ['Backspace'], does: step.back.does, run: step.back.run },
    { keys: ['ArrowRight', 'ArrowDown'], does: step.next, run: () => step.move(1) },
    { keys: ['ArrowLeft', 'ArrowUp'], does: step.previous, run: () => step.move(-1) },
    { keys: ['Escape'], does: step.leave, run: step.clear },
  ])
}
