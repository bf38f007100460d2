import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/parts.json'
import { choice } from './shown'

const says = sayer(texts)

type Part = Intl.DateTimeFormatPartTypes
const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' })

/** The day, month and year of a moment, in the order that the reader has them: 6 Aug 2032, or Aug 6, 2032. */
function ordered(format: Intl.DateTimeFormat, at: Date): string {
  const parts = format.formatToParts(at)
  const of = (type: Part) => parts.find((p) => p.type === type)?.value ?? ''
  return choice.value.dates === 'month-day'
    ? `${of('month')} ${of('day')}, ${of('year')}`
    : `${of('day')} ${of('month')} ${of('year')}`
}

/** A date of the log as people write it: 6 Aug 2032. */
export const longDate = (iso: string): string => ordered(day, new Date(`${iso}T00:00:00Z`))

/** A signed figure with a real minus sign: −13.6. */
export function signed(value: number, digits = 1): string {
  const text = rounded(Math.abs(value), digits)
  if (text === rounded(0, digits)) return text
  return (value < 0 ? '−' : '+') + text
}

const today = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })
const hours = {
  '24': new Intl.DateTimeFormat('en-GB', { timeStyle: 'short' }),
  '12': new Intl.DateTimeFormat('en-US', { timeStyle: 'short' }),
}

/** A moment as one says it here: 2 Apr 2033, 09:14; "before" for what came in from another log. */
export function longTime(iso: string): string {
  if (iso.startsWith('1970')) return says('from-another-log')
  const at = new Date(iso)
  return `${ordered(today, at)}, ${hours[choice.value.clock || '24'].format(at)}`
}

/** A chance in percent, as it is said: what is nearly sure or nearly out of the question gets no figure that claims more. */
export function chance(p: number): string {
  if (p > 0.99) return '> 99'
  if (p < 0.01) return '< 1'
  return rounded(100 * p, 0)
}
