import { onScopeDispose, watch } from 'vue'
import { api, type Schemas } from '@/api/client'
import type { Work } from '@/composables/useSheet'

type Seat = Omit<Schemas['Seat'], 'name' | 'for_ms'>

/** Tells the helper's screen what the sheet wants now. Nobody waits for it: where there is no such screen, nothing is lost. */
export function tellSeat(work: Work, wants: Seat) {
  const name = work.sheet.value?.name
  if (!name || work.draft.value) return
  void api
    .PUT('/api/engines/{engine}/sessions/{session}/seat', {
      params: { path: { engine: work.engine, session: work.session } },
      body: { ...wants, name, for_ms: 0 },
    })
    .catch(() => undefined)
}

/** Keeps the helper's screen at what a step wants, for as long as the step is shown. */
export function useSeat(work: Work, wants: () => Seat) {
  watch(
    () => JSON.stringify(wants()),
    () => tellSeat(work, wants()),
    { immediate: true },
  )
  onScopeDispose(() => tellSeat(work, { do: 'wait', line: 'Nothing to crank or turn now.' }))
}
