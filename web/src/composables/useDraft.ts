import { ref, watch } from 'vue'

/**
 * Keeps what is typed into a form of this tab until it is sent, whatever key or link leaves it. Begin is called once the form stands
 * as it is kept elsewhere; what was typed over that before is laid back.
 */
export function useDraft(name: string, read: () => unknown, write: (typed: never) => void) {
  const key = `braxel.draft.${name}`
  const restored = ref(false)
  let plain = ''
  let stop = () => {}

  function begin() {
    stop()
    plain = JSON.stringify(read())
    const typed = sessionStorage.getItem(key)
    if (typed && typed !== plain) {
      write(JSON.parse(typed) as never)
      restored.value = true
    }
    stop = watch(
      () => JSON.stringify(read()),
      (now) => (now === plain ? sessionStorage.removeItem(key) : sessionStorage.setItem(key, now)),
    )
  }
  /** What was typed is kept elsewhere now, or thrown away. */
  function done() {
    stop()
    sessionStorage.removeItem(key)
  }
  /** What the form shows from now on is something else: it isn't kept. */
  const rest = () => stop()
  function afresh() {
    write(JSON.parse(plain) as never)
    restored.value = false
  }
  return { begin, done, rest, afresh, restored }
}
