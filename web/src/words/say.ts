/**
 * The words of a page, by id: a text with values in braces, or its plural forms, chosen by the value n. The same form as the server's
 * catalogue, so that a translator finds one way of writing.
 */
export type Words = Record<string, string | { one: string; other: string }>
export type Values = Record<string, string | number | null | undefined>

const plural = new Intl.PluralRules('en')

/** Returns what says the words of one file; an id that the file has not is refused when it is compiled. */
export function sayer<W extends Words>(words: W) {
  return (id: keyof W & string, values: Values = {}): string => {
    const text = words[id]!
    const form = typeof text === 'string' ? text : plural.select(Number(values.n)) === 'one' ? text.one : text.other
    return form.replace(/\{(\w+)\}/g, (_, name: string) => String(values[name] ?? ''))
  }
}
