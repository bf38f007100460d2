import type { Schemas } from '@/api/client'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

type Path = Schemas['Path']

/** The places where air is heard, as they are called and toggled; of a cylinder that stands alone no neighbour is. */
export const placesOf = (kind: Schemas['Engine']['kind'], alone = false) =>
  all(kind).filter((p) => !alone || p.where !== 'neighbour')

const all = (kind: Schemas['Engine']['kind']): { where: Path['where']; words: string; key: string }[] => [
  // A two-stroke has no oil filler: what passes its rings is heard in the crankcase.
  { where: 'crankcase', words: kind === 'two-stroke' ? says('crankcase') : says('oil-filler'), key: 'c' },
  { where: 'intake', words: says('intake'), key: 'i' },
  { where: 'exhaust', words: says('exhaust'), key: 'e' },
  { where: 'coolant', words: says('coolant-2'), key: 'w' },
  { where: 'neighbour', words: says('neighbour'), key: 'n' },
  { where: 'plug_hole', words: says('plug-hole'), key: 'p' },
]

/**
 * Toggles a place. A neighbour's goes through the cylinders beside it, and then off. The place just set is answered
 * too: a figure that follows says how strong.
 */
export function toggle(paths: Path[], where: Path['where'], beside: number[]): [Path[], Path | undefined] {
  const there = paths.find((p) => p.where === where)
  if (!there) {
    const path: Path = { where, level: 2 }
    if (where === 'neighbour' && beside[0]) path.cylinder = beside[0]
    const next = [...paths, path]
    return [next, next.at(-1)]
  }
  const other = where === 'neighbour' && there.cylinder === beside[0] ? beside[1] : undefined
  if (other) {
    there.cylinder = other
    return [[...paths], there]
  }
  return [paths.filter((p) => p !== there), undefined]
}
