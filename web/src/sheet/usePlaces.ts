import { ref, type Ref } from 'vue'
import type { Schemas } from '@/api/client'
import { toggle } from './places'

type Path = Schemas['Path']

/** Where air is heard at a cylinder, and how strongly; undefined where nobody has said that he listened. */
export function usePlaces(was: Path[] | null, beside: () => number[], asking: Ref<boolean>) {
  const paths = ref<Path[] | undefined>(was ?? undefined)
  /** The place that was said last: 1, 2 and 3 say how strong it is. */
  const armed = ref<Path>()

  /** A place is on or off. When none is left on, nobody has said that he listened. */
  function place(where: Path['where']) {
    asking.value = false
    const [next, on] = toggle(paths.value ?? [], where, beside())
    paths.value = next.length ? next : undefined
    armed.value = on
  }
  function nothing() {
    paths.value = paths.value?.length === 0 ? undefined : []
    armed.value = undefined
    asking.value = false
  }
  function louder(level: number) {
    if (armed.value) armed.value.level = level
  }
  /** Right after a place 1, 2 and 3 say how strong; any other key is a figure's again. */
  function press(event: KeyboardEvent) {
    if (!armed.value) return
    if ('123'.includes(event.key) && !event.ctrlKey) {
      event.preventDefault()
      louder(Number(event.key))
    } else if (/^[0-9.,]$|^Backspace$/.test(event.key)) armed.value = undefined
  }
  function clear() {
    paths.value = armed.value = undefined
  }
  return { paths, armed, place, nothing, louder, press, clear }
}
