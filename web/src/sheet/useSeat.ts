import { useEventListener } from '@vueuse/core'
import { onScopeDispose, watch } from 'vue'
import { api, type Schemas } from '@/api/client'
import type { Work } from '@/composables/useSheet'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

type Seat = Omit<Schemas['Seat'], 'name' | 'for_ms'>

/** What is still to be told: one word at a time is on its way, so that none overtakes another, and only the latest is wanted. */
let next: (() => Promise<unknown>) | undefined
let telling = false
async function tellOn() {
  if (telling) return
  telling = true
  while (next) {
    const one = next
    next = undefined
    // Where there is no such screen, or no server, nothing is lost.
    await one().catch(() => undefined)
  }
  telling = false
}

/** Tells the helper's screen what the sheet wants now. */
export function tellSeat(work: Work, wants: Seat) {
  const name = work.sheet.value?.name
  if (!name || work.draft.value) return
  const path = { engine: work.engine, session: work.session }
  const at = performance.now()
  next = () => {
    const ran_s = wants.do === 'crank' ? (performance.now() - at) / 1000 : undefined
    const body = { ...wants, name, ran_s, for_ms: 0 }
    return api.PUT('/api/engines/{engine}/sessions/{session}/seat', {
      params: { path },
      body,
      keepalive: true, // a page that is closed still says its last word
    })
  }
  void tellOn()
}

/** Keeps the helper's screen at what a step wants, for as long as the step is shown. */
export function useSeat(work: Work, wants: () => Seat) {
  watch(
    () => JSON.stringify(wants()),
    () => tellSeat(work, wants()),
    { immediate: true },
  )
  const leave = { do: 'wait', line: says('nothing-crank-or-turn-now') } as const
  useEventListener(window, 'pagehide', () => tellSeat(work, leave))
  onScopeDispose(() => tellSeat(work, leave))
}
