/** What was typed beside the marks of a gauge's dial: its next film needs taps only. On this device, by gauge. */
export interface Remembered {
  unit?: string
  figures?: string[]
}

const key = (gauge: string) => `braxel.dial.${gauge}`

/** What is remembered of a gauge; with something to remember, that from now on. */
export function rememberedMarks(gauge: string, now?: Remembered): Remembered {
  try {
    if (now) localStorage.setItem(key(gauge), JSON.stringify(now))
    const was = JSON.parse(localStorage.getItem(key(gauge)) ?? '{}') as Remembered
    return Array.isArray(was.figures) && was.figures.length > 1 ? was : {}
  } catch {
    return {}
  }
}
