import type { Schemas } from '@/api/client'

/** When to stop cranking, as one says it. */
export function stopWhen(cranking: Schemas['Cranking'] | undefined): string {
  if (cranking?.rule === 'count') return `${cranking.count ?? 6} beats each`
  if (cranking?.rule === 'time') return `${cranking.seconds ?? 5} seconds each`
  return 'until the needle stops rising'
}
