import { useQuery } from '@tanstack/vue-query'
import { useDocumentVisibility, useLocalStorage } from '@vueuse/core'
import { computed, onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import { api, ask, Refused, type Schemas } from '@/api/client'
import { base } from '@/api/base'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'

const says = sayer(texts)

/** Whether a pull is kept by itself when the next beat adds nothing: on this device. */
const hands = useLocalStorage('braxel.hands-free', true)

export type GaugeNow = Schemas['GaugeNow']
type Unit = GaugeNow['unit']

/** The curve of the pull under way: seconds since it began, and what the dial showed. It grows in place; drawn says when to look again. */
export interface Curve {
  pull: number
  t: number[]
  p: number[]
}

/** Adds a frame's points to a curve; another pull, or another gauge, begins anew. */
export function grow(curve: Curve, now: Pick<GaugeNow, 'of' | 't' | 'p'>): Curve {
  if (!now.t?.length) return (now.of ?? 0) === curve.pull ? curve : { pull: now.of ?? 0, t: [], p: [] }
  const goesOn = now.of === curve.pull && (curve.t.at(-1) ?? 0) < now.t[0]!
  const next = goesOn ? curve : { pull: now.of ?? 0, t: [], p: [] }
  next.t.push(...now.t)
  next.p.push(...(now.p ?? []))
  return next
}

/** The electronic gauge, or the leak-down tester, that is heard: what it does, as it comes. */
export function useGauge(unit: Ref<Unit>, air = false) {
  const ofOurs = (g: Schemas['Gauge']) => (g.kind === 'leak-down') === air
  const there = useQuery({
    queryKey: ['gauge', air, unit],
    queryFn: () => ask(api.GET('/api/gauge', { params: { query: { unit: unit.value, air } } })),
    staleTime: 0,
    // News say when one comes; what came before they were heard is found by asking.
    refetchInterval: (query) => (query.state.data?.gauges?.some(ofOurs) ? false : 3000),
  })
  const now = shallowRef<GaugeNow>()
  const frame = ref(0)
  let curve: Curve = { pull: 0, t: [], p: [] }
  watch(there.data, (is) => is && (now.value = is), { immediate: true })
  const all = computed(() => (now.value?.gauges ?? []).filter(ofOurs))
  const speaks = computed(() => (there.data.value?.gauges ?? []).some(ofOurs))
  const asking = computed(() => there.data.value?.asking ?? [])
  const heard = computed(() => all.value.find((g) => g.followed))
  const fault = computed(() => now.value?.fault ?? '')

  // A page that nobody looks at neither listens nor keeps anything.
  const visible = useDocumentVisibility()
  let stream: EventSource | undefined
  function close() {
    stream?.close()
    stream = undefined
  }
  watch(
    [speaks, unit, visible],
    () => {
      close()
      curve = { pull: 0, t: [], p: [] }
      if (!speaks.value || visible.value !== 'visible') return
      stream = new EventSource(`${base}/api/gauge/live?unit=${encodeURIComponent(unit.value)}&air=${air}`)
      stream.onmessage = (event: MessageEvent<string>) => {
        const next = JSON.parse(event.data) as GaugeNow
        curve = grow(curve, next)
        now.value = next
        frame.value++
      }
    },
    { immediate: true },
  )
  onScopeDispose(close)

  /** Takes the pull that the gauge shows, for a cylinder: whoever asks first has it. */
  async function take(engine: string, number: number, pull = 0): Promise<Schemas['TakenPull'] | string> {
    try {
      return await ask(api.POST('/api/gauge/take', { body: { engine, number, unit: unit.value, pull, air } }))
    } catch (e) {
      return e instanceof Refused ? e.message : says('cant-reach-braxel-type-what')
    }
  }
  const follow = (id: number) => api.PUT('/api/gauge', { body: { id } })

  return { hands, now, all, asking, heard, speaks, fault, frame, curve: () => curve, take, follow }
}

export type LiveGauge = ReturnType<typeof useGauge>
