import { ref, watch, type Ref } from 'vue'
import type { Work } from '@/composables/useSheet'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'
import type { Starter } from './useCrank'
import { useSeat } from './useSeat'

const says = sayer(texts)

interface Asked {
  current: Ref<number>
  /** What was saved last. */
  kept: Ref<string>
  /** Everything is read, in words; undefined while something is wanted. */
  done: () => string | undefined
  /** What comes next, in words. */
  next: () => string
}

/** What the helper by the key is told of a step that is cranked. */
export function useCrankSeat(work: Work, starter: Starter, asked: Asked) {
  // The rest that was asked for when the starter stopped: the seat counts it down by itself. On another step it goes on.
  const restAsked = ref(starter.rest.value > 0 ? starter.rest.value : undefined)
  watch(starter.running, (is) => (restAsked.value = is ? undefined : starter.rest.value))
  useSeat(work, () => {
    const crank = starter.crank.value
    const volts = work.sheet.value!.session.conditions?.battery_v
    const common = { cylinder: asked.current.value, foot: volts ? says('battery-v', { volts }) : '' }
    if (starter.running.value)
      return { ...common, do: 'crank', line: crank.pedal, seconds: crank.seconds, most_s: crank.most_s }
    const rest_s = starter.rest.value > 0 ? restAsked.value : undefined
    if (starter.unkept.value) return { ...common, do: 'stop', line: says('let-go-gauge-being-read'), rest_s }
    const done = rest_s === undefined ? asked.done() : undefined
    if (done !== undefined) return { ...common, do: 'done', line: `${asked.kept.value} ${done}`.trim() }
    return { ...common, do: 'wait', line: `${asked.kept.value} ${asked.next()}`.trim(), rest_s }
  })
}
