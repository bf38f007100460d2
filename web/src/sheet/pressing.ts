import { nextTick } from 'vue'

// For tests: keys as a hand presses them.

/** Presses a key as a browser does: the page first, then, if nobody took it, the field that has the focus. */
export async function press(key: string) {
  const at = (document.activeElement ?? document.body) as HTMLElement
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true })
  at.dispatchEvent(event)
  if (!event.defaultPrevented && at instanceof HTMLInputElement) {
    const typed = key.length === 1 ? at.value + key : key === 'Backspace' ? at.value.slice(0, -1) : at.value
    const before = new InputEvent('beforeinput', {
      data: key.length === 1 ? key : null,
      bubbles: true,
      cancelable: true,
    })
    if (key.length === 1) at.dispatchEvent(before)
    if (!before.defaultPrevented && typed !== at.value) {
      at.value = typed
      at.dispatchEvent(new InputEvent('input', { bubbles: true }))
    }
  }
  await nextTick()
  await nextTick()
}

/** Numbers that look random and are the same every time. */
export function dice(seed: number) {
  return (n: number) => {
    seed = (seed * 1103515245 + 12345) % 2147483648
    return Math.floor((seed / 2147483648) * n)
  }
}
