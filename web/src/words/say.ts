/**
 * The words of a page, by id: a text with values in braces, or its plural forms, chosen by the value n. The same form as the server's
 * catalogue, so that a translator finds one way of writing.
 */
export type Words = Record<string, string | { one: string; other: string }>
export type Values = Record<string, string | number | null | undefined>

/** Whom the texts are written for. */
const reader = 'en'
const plural = new Intl.PluralRules(reader)
const fixed: Record<number, Intl.NumberFormat> = {}
const number = new Intl.NumberFormat(reader, { maximumFractionDigits: 20, useGrouping: 'min2' })

/** A value as the reader's language writes it. */
export const written = (value: string | number | null | undefined) =>
  typeof value === 'number' ? number.format(value) : (value ?? '')

/** A number with so many decimals, as the reader's language writes it; nothing of nothing. */
export function rounded(value: number, decimals: number): string
export function rounded(value: number | undefined, decimals: number): string | undefined
export function rounded(value: number | undefined, decimals: number) {
  if (value === undefined) return undefined
  fixed[decimals] ??= new Intl.NumberFormat(reader, {
    minimumFractionDigits: decimals,
    maximumFractionDigits: decimals,
    useGrouping: 'min2',
  })
  return fixed[decimals].format(value)
}

/** Returns what says the words of one file; an id that the file has not is refused when it is compiled. */
export function sayer<W extends Words>(words: W) {
  const says = (id: keyof W & string, values: Values = {}): string => {
    const text = words[id]!
    const form = typeof text === 'string' ? text : plural.select(Number(values.n)) === 'one' ? text.one : text.other
    return form.replace(/\{(\w+)\}/g, (_, name: string) => written(values[name]))
  }
  /** The text before and after one of its values, which is shown in its own way between the two. */
  const around = (id: keyof W & string, value: string, values: Values = {}): [string, string] => {
    const here = '\u0000'
    const [before = '', after = ''] = says(id, { ...values, [value]: here }).split(here)
    return [before, after]
  }
  return Object.assign(says, { around })
}
