import { registerSW } from 'virtual:pwa-register'
import { ref } from 'vue'

/** A newer Braxel is there: it is used when somebody says so, and not over a half-typed figure. */
export const newer = ref<() => void>()

export function startUpdates() {
  const update = registerSW({ immediate: true, onNeedRefresh: () => (newer.value = () => void update(true)) })
}
