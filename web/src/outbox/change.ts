type Fields = Record<string, unknown>

const empty = (v: unknown) => v === undefined || v === null || v === '' || (Array.isArray(v) && v.length === 0)
const object = (v: unknown): v is Fields => typeof v === 'object' && v !== null && !Array.isArray(v)

/** The fields that hold something, for what is entered for the first time. */
export function given(now: Fields): Fields {
  const out: Fields = {}
  for (const [key, value] of Object.entries(now)) {
    if (object(value)) out[key] = given(value)
    else if (!empty(value)) out[key] = value
  }
  return out
}

/** The fields that differ, as a change (RFC 7396): null for one that was emptied. */
export function changed(was: Fields, now: Fields): Fields {
  const out: Fields = {}
  for (const key of new Set([...Object.keys(was), ...Object.keys(now)])) {
    if (!(key in now)) continue
    const [before, after] = [was[key], now[key]]
    if (object(before) && object(after)) {
      const inner = changed(before, { ...Object.fromEntries(Object.keys(before).map((k) => [k, undefined])), ...after })
      if (Object.keys(inner).length) out[key] = inner
    } else if (empty(after)) {
      if (!empty(before)) out[key] = null
    } else if (JSON.stringify(before) !== JSON.stringify(after)) out[key] = object(after) ? given(after) : after
  }
  return out
}

/** The fields of a change as they were seen before it; null for one that was empty. */
export function seen(have: Record<string, unknown>, change: object): Record<string, unknown> {
  const was: Record<string, unknown> = {}
  for (const [key, value] of Object.entries(change)) {
    const before = have[key]
    if (value && typeof value === 'object' && !Array.isArray(value))
      was[key] = seen((before ?? {}) as Record<string, unknown>, value as object)
    else was[key] = before ?? null
  }
  return was
}

/** A name made plain enough for an address. */
export function slug(name: string): string {
  const plain = name.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-')
  return plain.slice(0, 40).replaceAll(/^-+|-+$/g, '') || 'engine'
}
