import { useSessionStorage, type RemovableRef } from '@vueuse/core'
import { practice } from '@/api/base'
import type { Work } from './useSheet'

/**
 * What is half typed on a step of a sheet: it is there again after another step, after the page was loaded anew, and after the program was
 * brought up to date, until it is handed in or cleared.
 */
export function useTyped<T extends string | object>(work: Work, field: string, empty: T): RemovableRef<T> {
  const of = [practice ? 'practice' : 'shop', work.engine, work.session, field].map(encodeURIComponent).join('.')
  return useSessionStorage(`braxel.typed.${of}`, empty)
}
