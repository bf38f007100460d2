import type { Schemas } from '@/api/client'
import { sayer } from '@/words/say'
import texts from '@/words/en/inspection.json'

const says = sayer(texts)

type Line = Schemas['Line']

/** The lines under the headings that they stand under, in their order. */
export function grouped(lines: Line[]): { name: string; lines: Line[] }[] {
  const all: { name: string; lines: Line[] }[] = []
  for (const line of lines) {
    if (all.at(-1)?.name !== line.section) all.push({ name: line.section, lines: [] })
    all.at(-1)!.lines.push(line)
  }
  return all
}

const answered = (line: Line) => !!line.answer || !!line.unchecked

/** The line to come up after one was answered: the next open one from there on, else the first, else the next in order. */
export function nextOf(lines: Line[], item: string): string {
  const at = lines.findIndex((l) => l.item === item)
  const round = [...lines.slice(at + 1), ...lines.slice(0, at)]
  return (round.find((l) => !answered(l)) ?? lines[Math.min(at + 1, lines.length - 1)])?.item ?? ''
}

/** What stands at the end of a line. */
export function shownAnswer(line: Line): string {
  if (line.unchecked) return says('couldnt-checked')
  return line.answer ?? ''
}
