/** What has the focus, as far as keys go. A figure is a field of the sheet that takes a figure and nothing else. */
export type Focus = 'page' | 'figure' | 'text' | 'list' | 'button' | 'tick'

/** Says what an element is to the keys. */
export function focusOf(at: EventTarget | null): Focus {
  if (!(at instanceof Element)) return 'page'
  if (at.matches('[data-figure]')) return 'figure'
  if (at.matches('input[type=checkbox], input[type=radio]')) return 'tick'
  if (at.matches('button, a[href], summary, [role=button], input[type=file], input[type=submit]')) return 'button'
  if (at.matches('select')) return 'list'
  if (at.matches('input, textarea') || (at instanceof HTMLElement && at.isContentEditable)) return 'text'
  return 'page'
}

/** The keys that change what stands in a field of figures, or move in it. */
const editing = /^([0-9.,]|Backspace|Delete|Home|End|Arrow(Left|Right|Up|Down)|Page(Up|Down))$/

/**
 * Reports whether what has the focus claims a key for itself, so that the page must leave it alone. A half-typed figure claims
 * the keys that would leave it behind, too; an empty field claims only what is typed into it.
 */
export function claims(focus: Focus, key: string, empty: boolean): boolean {
  switch (focus) {
    case 'page':
      return false
    case 'button':
      return key === 'Enter' || key === ' '
    case 'tick':
      return key === ' '
    case 'figure':
      return empty ? /^[0-9.,]$/.test(key) : editing.test(key)
    case 'list':
      return key !== 'PageUp' && key !== 'PageDown' // what is picked is picked: nothing is left behind
    case 'text':
      return true
  }
}

/** One key of a page: what to press, what it does in words, and doing it. */
export interface Key {
  keys: string[]
  does: string
  run?: (event: KeyboardEvent) => void
  /** It acts in a field of words, too: only for keys that mean nothing there. */
  inText?: boolean
}

/** The press of a key, as far as it matters here. */
export interface Press {
  key: string
  focus: Focus
  empty: boolean
  repeat?: boolean
}

/** Returns the key of a page that a press is for, if any. One that is held down moves on, and does nothing else again and again. */
export function meant(keys: Key[], press: Press): Key | undefined {
  if (press.repeat && !/^(Arrow|Backspace)/.test(press.key)) return undefined
  return keys.find(
    (k) =>
      k.run !== undefined &&
      k.keys.includes(press.key) &&
      (!claims(press.focus, press.key, press.empty) || (k.inText === true && press.focus === 'text')),
  )
}
