import type { Schemas, State } from '@/api/client'
import { sayer } from '@/words/say'
import texts from '@/words/en/rack.json'

const says = sayer(texts)

type Engine = Schemas['RackEngine']

/** Where engines stand, in words. */
export const places: Record<string, string> = {
  car: says('car-or-boat'),
  stand: says('stand'),
  sold: says('sold'),
  away: says('archived-or-deleted-2'),
}

/** What is picked out of the rack; an empty field leaves it open. */
export interface Pick {
  state: State | ''
  owner: string
  place: string
  due: '' | 'overdue' | 'soon'
  order: '' | 'due'
}
export const none: Pick = { state: '', owner: '', place: '', due: '', order: '' }

/** Whether every word that was typed stands somewhere in what is known of an engine. */
export function finds(e: Engine, typed: string): boolean {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean)
  if (words.length === 0) return true
  const text = [e.name, e.owner, e.about, e.state, e.headline, e.sentence, e.words, e.duty].join(' ').toLowerCase()
  return words.every((w) => text.includes(w))
}

export function picks(e: Engine, pick: Pick): boolean {
  const due = e.diary.map((i) => i.standing)
  return (
    (!pick.state || (e.tests > 0 && e.state === pick.state)) &&
    (!pick.owner || e.owner === pick.owner) &&
    (!pick.place || pick.place === 'away' || e.place === pick.place) &&
    (pick.due !== 'overdue' || due.some((s) => s === 'overdue' || s === 'now')) &&
    (pick.due !== 'soon' || due.some((s) => s === 'overdue' || s === 'now' || s === 'soon'))
  )
}

const standings = ['overdue', 'now', 'soon', 'later', says('postponed')]

/** What is due first, first; what has nothing due, last. */
export function byDue(a: Engine, b: Engine): number {
  const rank = (e: Engine) => Math.min(9, ...e.diary.map((i) => standings.indexOf(i.standing)))
  const day = (e: Engine) =>
    e.diary
      .map((i) => i.put_off ?? i.by ?? '9999')
      .sort()
      .at(0) ?? '9999'
  return rank(a) - rank(b) || day(a).localeCompare(day(b))
}
