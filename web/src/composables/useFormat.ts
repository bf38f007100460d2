import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' })

/** A date of the log as people write it: 6 Aug 2032. */
export function longDate(iso: string): string {
  return day.format(new Date(`${iso}T00:00:00Z`))
}

/** A signed figure with a real minus sign: −13.6. */
export function signed(value: number, digits = 1): string {
  const text = rounded(Math.abs(value), digits)
  if (text === rounded(0, digits)) return text
  return (value < 0 ? '−' : '+') + text
}

const moment = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

/** A moment as one says it here: 2 Apr 2033, 09:14; "before" for what came in from another log. */
export function longTime(iso: string): string {
  return iso.startsWith('1970') ? says('from-another-log') : moment.format(new Date(iso))
}

/** A chance in percent, as it is said: what is nearly sure or nearly out of the question gets no figure that claims more. */
export function chance(p: number): string {
  if (p > 0.99) return '> 99'
  if (p < 0.01) return '< 1'
  return rounded(100 * p, 0)
}
