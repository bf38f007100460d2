const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC' })

/** A date of the log as one says it: 6 August 2032. */
export function longDate(iso: string): string {
  return day.format(new Date(`${iso}T00:00:00Z`))
}

/** A signed figure with a real minus sign: −13.6. */
export function signed(value: number, digits = 1): string {
  const text = Math.abs(value).toFixed(digits)
  if (Number(text) === 0) return (0).toFixed(digits)
  return (value < 0 ? '−' : '+') + text
}
