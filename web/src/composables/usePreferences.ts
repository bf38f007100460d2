import { useLocalStorage, usePreferredDark } from '@vueuse/core'
import { computed, watchEffect } from 'vue'

const chosen = useLocalStorage<'light' | 'dark' | ''>('braxel.theme', '')

/** The theme: what was chosen, else what the machine prefers. */
export function useTheme() {
  const machine = usePreferredDark()
  const theme = computed(() => chosen.value || (machine.value ? 'dark' : 'light'))
  watchEffect(() => (document.documentElement.dataset.theme = theme.value))
  const toggle = () => (chosen.value = theme.value === 'dark' ? 'light' : 'dark')
  return { theme, toggle }
}
