import { ref } from 'vue'

/** This device is not let in: what is entered waits on it until the passcode was typed. */
export const locked = ref(false)
/** The person goes on without, for now. */
export const later = ref(false)

/** Takes in what the server answered: 401 is said of a device that is not in, and of nothing else. */
export function heard(status: number) {
  if (status === 401) locked.value = true
  else if (status < 400) locked.value = later.value = false
}

/** The passcode that a scanned address brought along: it is taken out of the address at once. */
export function fromAddress(): string {
  const found = /^#passcode=(\d+)$/.exec(location.hash)
  if (found) history.replaceState(history.state, '', location.pathname + location.search)
  return found?.[1] ?? ''
}
