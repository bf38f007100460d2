/** The fields of an entry's body as one can type them: figures, words, and lists as JSON. */
export function fieldsOf(body: object, at = ''): Record<string, string> {
  const out: Record<string, string> = {}
  for (const [key, value] of Object.entries(body) as [string, unknown][]) {
    if (value && typeof value === 'object' && !Array.isArray(value)) Object.assign(out, fieldsOf(value, `${at}${key}.`))
    else out[at + key] = typeof value === 'string' ? value : JSON.stringify(value)
  }
  return out
}

/** The body with the fields as they were typed; a field keeps its sort: a figure stays a figure. */
export function withFields(body: object, typed: Record<string, string>, at = ''): object {
  return Object.fromEntries(
    Object.entries(body).map(([key, value]: [string, unknown]) => {
      if (value && typeof value === 'object' && !Array.isArray(value))
        return [key, withFields(value, typed, `${at}${key}.`)]
      const text = typed[at + key] ?? ''
      if (typeof value === 'string') return [key, text]
      try {
        return [key, JSON.parse(typeof value === 'number' ? text.trim().replace(',', '.') : text) as unknown]
      } catch {
        return [key, text]
      }
    }),
  )
}
