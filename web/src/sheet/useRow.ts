import { computed, ref, watch } from 'vue'

interface Row {
  /** The cylinders or rotors, in the order that they are tested in. */
  order: () => number[]
  /** What the sheet asks for; 0 when everything is read. */
  asked: () => number
  /** Some readings wait to be sent, so that the sheet does not know of them yet. */
  waits: () => boolean
  /** It has what it needs, with what waits. */
  enough: (number: number) => boolean
  /** Something of it is being entered: it must not land in another's row, whatever news comes in. */
  entering: () => boolean
  /** Where to stand when everything is read; the last by default. */
  rest?: () => number
  /** Where it stood when the step was left with something half typed. */
  at?: number
}

/** Which cylinder or rotor a step is at: the one picked, else the one that the sheet asks for, past those whose readings wait. */
export function useRow(of: Row) {
  const picked = ref(of.at)
  const held = ref<number>()
  const current = computed((): number => {
    const stays = held.value ?? picked.value
    if (stays) return stays
    const order = of.order()
    const asked = of.asked() || (of.rest ?? (() => order.at(-1) ?? 0))()
    if (!of.waits()) return asked
    const from = order.indexOf(asked)
    return [...order.slice(from), ...order.slice(0, from)].find((n) => !of.enough(n)) ?? asked
  })
  const hold = (is: boolean) => (held.value = is ? current.value : undefined)
  watch(of.entering, hold, { immediate: true })

  /** Picks one; nothing gives the choice back to the sheet. */
  function choose(number: number | undefined) {
    if (held.value) held.value = number
    picked.value = number
  }
  function move(by: number) {
    const order = of.order()
    choose(order[(order.indexOf(current.value) + by + order.length) % order.length])
  }
  return { current, picked, choose, move }
}
