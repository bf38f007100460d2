import type { Schemas } from '@/api/client'
import { longDate } from '@/composables/useFormat'

type Item = Schemas['DiaryItem']

/** When something is due: by the meter, by the day, whichever comes first. */
export function whenOf(item: Item): string {
  if (item.standing === 'put off') return `put off until ${longDate(item.put_off!)}`
  const meter = item.meter === undefined ? '' : `${item.meter.toFixed(0)} ${item.unit ?? ''}`.trim()
  const date = item.by ? longDate(item.by) : ''
  if (item.reached) return `due since its meter came to ${meter}`
  if (item.standing === 'overdue') return `due since ${date}`
  if (item.standing === 'now') return 'due today'
  return (
    [meter, date]
      .filter(Boolean)
      .map((w) => `by ${w}`)
      .join(' or ') || 'when it suits'
  )
}

/** The two together: "test it, by 45 h or by 3 May 2033". */
export const dueWords = (item: Item) => `${item.what}, ${whenOf(item)}`
