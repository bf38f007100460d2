import { ref } from 'vue'
import { practice } from '@/api/base'

/** By how much this device's clock may be wrong before that is said, and before what it says is put right, ms. */
export const tolerated = 5 * 60_000

/** The server's clock less this device's, ms; 0 until the server was heard. */
const ahead = ref(0)
/** How far this device's clock is off, ms, where that is worth a word; and whether the word was said. */
export const off = ref(0)
export const saidOff = ref(false)
/** The day at the server, as the log writes days: the demo's is its own. */
const day = ref('')
/** Why the server can keep nothing just now. */
export const trouble = ref('')

const key = practice ? 'braxel.practice.seen' : 'braxel.seen'
/** The latest time of an entry that this device was told of, or has made. */
let seen = ''
try {
  seen = localStorage.getItem(key) ?? ''
} catch {
  // A browser that stores nothing knows it for as long as the page is open.
}
function saw(time: string | null) {
  if (!time || time <= seen) return
  seen = time
  try {
    localStorage.setItem(key, seen)
  } catch {
    // as above
  }
}

/**
 * Takes in what every answer says beside itself: the latest entry that was told of, the server's day, what is wrong there; and its time,
 * where the answer is fresh: one that the service worker kept is as old as it may be.
 */
export function heardFrom(headers: Headers, fresh: boolean) {
  saw(headers.get('Braxel-Seen'))
  const on = headers.get('Braxel-Day') ?? ''
  if (on > day.value) day.value = on
  const wrong = headers.get('Braxel-Trouble') ?? ''
  if (wrong || fresh) trouble.value = wrong
  const date = Date.parse(headers.get('Date') ?? '')
  if (!fresh || Number.isNaN(date)) return
  ahead.value = date - Date.now()
  off.value = Math.abs(ahead.value) > tolerated ? ahead.value : 0
}

const two = (n: number, digits = 2) => String(n).padStart(digits, '0')

/** The day at the server; where it was never heard, this device's. */
export function today(): string {
  if (day.value) return day.value
  const now = new Date()
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`
}

/**
 * The time of an entry that is typed now: by the server's clock where this device's is off, and after all that this device was told of or
 * has entered (a hybrid logical clock). Where that isn't what the device's clock says, the clock stands beside it.
 */
export function stamp(): { at: string; clock?: string } {
  const own = Date.now()
  const fair = Math.abs(ahead.value) > tolerated ? own + ahead.value : own
  const at = new Date(Math.max(fair, seen ? Date.parse(seen) + 1 : 0)).toISOString()
  saw(at)
  return Math.abs(Date.parse(at) - own) > tolerated ? { at, clock: new Date(own).toISOString() } : { at }
}
