import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

/** The numbers of a line, however they are parted, and the first word of it that is none; a degree sign belongs to its number. */
export function listed(text: string): { numbers: number[]; none?: string } {
  const words = text
    .trim()
    .split(/[\s,;/\-–°]+/)
    .filter(Boolean)
  return {
    numbers: words.filter((w) => /^\d+$/.test(w)).map(Number),
    none: words.find((w) => !/^\d+$/.test(w)),
  }
}

/** Names of cylinders as they are typed, "1 front left, 2 front right", and the first part that doesn't begin with a number and go on. */
export function namesOf(text: string): { names: Record<string, string>; none?: string } {
  const parts = text
    .split(/[,;\n]+/)
    .map((p) => p.trim())
    .filter(Boolean)
  const pair = /^(\d+)[\s:=]+(\S.*)$/
  const found = parts.flatMap((p) => {
    const [, number, name] = pair.exec(p) ?? []
    return number && name ? [[number, name] as const] : []
  })
  return { names: Object.fromEntries(found), none: parts.find((p) => !pair.test(p)) }
}

export const noNumber = (word = '') => says('not-number-type-numbers-with', { typed: word })
export const noName = (part: string) => says('has-no-cylinder-number-type', { part })
