import { useEventListener } from '@vueuse/core'
import { ref, type Ref } from 'vue'

/** One key of a page: what to press, what it does in words, and doing it. */
export interface Key {
  keys: string[]
  does: string
  run?: (event: KeyboardEvent) => void
  inFields?: boolean
}

/** The keys of the page in front, for the help that "?" opens. */
export const pageKeys: Ref<Key[]> = ref([])

function typing(event: KeyboardEvent): boolean {
  const at = event.target
  return at instanceof HTMLElement && (at.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(at.tagName))
}

/** Binds a page's keys while it is shown. Keys stay quiet while a dialog is open or a field is typed in. */
export function useKeys(keys: Key[]) {
  pageKeys.value = keys
  useEventListener(window, 'keydown', (event) => {
    if (
      event.defaultPrevented ||
      event.ctrlKey ||
      event.metaKey ||
      event.altKey ||
      document.querySelector('[role=dialog]')
    )
      return
    const key = keys.find((k) => k.keys.includes(event.key) && k.run && (k.inFields || !typing(event)))
    if (!key) return
    event.preventDefault()
    key.run?.(event)
  })
}
