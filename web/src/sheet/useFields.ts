import { ref, type Ref } from 'vue'
import { typedOn } from '@/composables/figure'

interface Input {
  focus: () => void
  select: () => void
}

/**
 * The fields of a step that figures go into, from the keyboard, the pad or a paste. One of them is in hand: it takes what is typed while
 * nothing has the focus. What is typed clears what was said of it.
 */
export function useFields<F extends string>(values: Record<F, Ref<string>>, first: NoInfer<F>, typed: () => void) {
  const at = ref<F>(first) as Ref<F>
  /** What stands in the field is from before: the next digit begins it anew. */
  const fresh = ref(false)
  const inputs: Partial<Record<F, Input>> = {}
  const input = (name: F) => (el: unknown) => void (inputs[name] = (el ?? undefined) as Input | undefined)

  /** Takes a field in hand, as it gets the focus. */
  function take(name: F, anew = false) {
    fresh.value = anew && at.value !== name
    at.value = name
    if (fresh.value) inputs[name]?.select()
  }
  const focus = (name: F = at.value) => inputs[name]?.focus()
  function digit(key: string) {
    typed()
    values[at.value].value = typedOn(fresh.value ? '' : values[at.value].value, key)
    fresh.value = false
  }
  function back() {
    typed()
    fresh.value = false
    values[at.value].value = values[at.value].value.slice(0, -1)
  }
  /** Somebody typed into the field itself. */
  function wrote() {
    typed()
    fresh.value = false
  }
  return { at, input, take, focus, digit, back, wrote }
}
