import { useEventListener } from '@vueuse/core'
import { computed, onScopeDispose, shallowRef } from 'vue'
import { focusOf, meant, type Key } from './keymap'

export type { Key } from './keymap'

/** The keys in force, by who asked for them: the page, the step in front, the whole program. */
const scopes = shallowRef<Key[][]>([])

/** All of them, for the help that "?" opens. */
export const keysHere = computed(() => [...scopes.value].reverse().flat())

/** Binds keys while whoever asks is shown. They stay quiet while a dialog is open, and where what has the focus claims them. */
export function useKeys(keys: Key[]) {
  scopes.value = [...scopes.value, keys]
  onScopeDispose(() => (scopes.value = scopes.value.filter((s) => s !== keys)))
  useEventListener(window, 'keydown', (event) => {
    if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey || event.isComposing) return
    if (document.querySelector('[role=dialog]')) return
    const at = event.target
    // What a field offers by itself is not half typed.
    const empty = at instanceof HTMLInputElement && (at.value === '' || at.value === at.dataset.offers)
    const key = meant(keys, { key: event.key, focus: focusOf(at), empty, repeat: event.repeat })
    if (!key) return
    event.preventDefault()
    key.run?.(event)
  })
}
