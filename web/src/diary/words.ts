import type { Schemas } from '@/api/client'
import { longDate } from '@/composables/useFormat'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/diary.json'

const says = sayer(texts)

type Item = Schemas['DiaryItem']

/** When something is due: by the meter, by the day, whichever comes first. */
export function whenOf(item: Item): string {
  if (item.standing === 'put off') return says('postponed-until', { put_off: longDate(item.put_off!) })
  const meter = item.meter === undefined ? '' : `${rounded(item.meter, 0)} ${item.unit ?? ''}`.trim()
  const date = item.by ? longDate(item.by) : ''
  if (item.reached) return says('overdue-since', { meter })
  if (item.standing === 'overdue') return says('overdue-since-2', { date })
  if (item.standing === 'now') return says('due-today')
  return (
    [meter, date]
      .filter(Boolean)
      .map((w) => says('by', { meter: w }))
      .join(' or ') || says('any-time')
  )
}

/** The two together: "test it, by 45 h or by 3 May 2033". */
export const dueWords = (item: Item) => `${item.what}, ${whenOf(item)}`
