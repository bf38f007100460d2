import { words } from '@/api/constants.gen'
import texts from './en/values.json'

/** The values of a log that pages show, as people say them. */
export const shownValues = [...words.Session.stage, ...words.Conditions.engine_temp] as const
type Value = (typeof shownValues)[number]
const labels: Record<Value, string> = texts

/** Returns a value of the log as people say it; nothing of nothing. */
export const worded = (value: string | undefined) => value && (labels[value as Value] ?? value)
