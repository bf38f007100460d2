import { sayer } from '@/words/say'
import texts from '@/words/en/season.json'
import type { Cell, Work } from './useSeason'

const says = sayer(texts)

/** A chance as a figure: whole percents, but never a certainty. */
export const percent = (chance: number) => `${Math.min(99, Math.max(1, Math.round(100 * chance)))}`

/** Running as finely as it is typed. */
export const running = (x: number) => String(Math.round(x * 10) / 10)

const works: Record<Work, string> = { test: says('test'), freshen: says('freshen'), rebuild: says('rebuild') }
export const workWords = (w: Work) => works[w]

/** Which cell it is, to somebody who doesn't see where it stands. */
export const heard = (cell: Cell, engine: string, event: string) =>
  `${engine}, ${event}${cell.car ? '' : `, ${says('heard-not')}`}: `

/** The chances of running past its limits that an owner may take, as one in so many. */
export const oneIn = [100, 50, 20, 10, 5]
