import { useIntervalFn } from '@vueuse/core'
import { computed, onScopeDispose, ref, type Ref } from 'vue'
import { sound } from '@/composables/useSound'
import type { Work } from '@/composables/useSheet'
import { restLeft, type Run } from './starter'

/** The starter of a test: started and stopped at the sheet, stopped by itself when the pull is over. */
export function useCrank(work: Work, cylinder: Ref<number>) {
  const crank = computed(() => work.sheet.value!.crank)
  const began = ref(0)
  const now = ref(Date.now())
  const own = ref<Run[]>([])
  /** The run whose figure has not been kept yet, and the cylinder that it was of. */
  const unkept = ref<{ cylinder: number; seconds: number }>()
  const running = computed(() => began.value > 0)
  const elapsed = computed(() => (running.value ? Math.max(0, now.value - began.value) / 1000 : 0))
  const most = computed(() => crank.value.seconds ?? crank.value.most_s)

  const tick = useIntervalFn(
    () => {
      const before = Math.floor(elapsed.value)
      now.value = Date.now()
      if (!running.value) return
      if (elapsed.value >= most.value) stop()
      else if (Math.floor(elapsed.value) > before) sound('second')
    },
    100,
    { immediate: true },
  )
  onScopeDispose(tick.pause)

  function start() {
    now.value = began.value = Date.now()
    unkept.value = { cylinder: cylinder.value, seconds: 0 }
    sound('start')
  }
  function stop() {
    if (!running.value) return
    // A run that ends by itself was as long as it was to be, whatever the clock's ticks.
    const seconds = Math.min((Date.now() - began.value) / 1000, most.value)
    unkept.value!.seconds = Math.round(seconds * 10) / 10
    own.value = [...own.value, { ended: Date.now(), seconds }]
    began.value = 0
    sound('end')
  }
  const toggle = () => (running.value ? stop() : start())

  /** The seconds of the pull that is about to be kept of a cylinder: once, and of no other's. */
  function take(of: number): number | undefined {
    stop()
    const run = unkept.value
    unkept.value = undefined
    return run?.cylinder === of && run.seconds > 0 ? run.seconds : undefined
  }

  /** Runs of this page, and those that are on record with their pulls from before it was opened. */
  const opened = Date.now()
  const runs = computed(() => {
    const s = work.sheet.value!
    const kept = [...s.cells, ...s.wet].flatMap((c) =>
      c.pulls.flatMap((p) => (p.seconds && p.at ? [{ ended: Date.parse(p.at), seconds: p.seconds }] : [])),
    )
    return [...kept.filter((r) => r.ended < opened), ...own.value]
  })
  const rest = computed(() => (running.value ? 0 : Math.ceil(restLeft(runs.value, crank.value, now.value))))
  const ran = computed(() => Math.round(runs.value.reduce((sum, r) => sum + r.seconds, 0) + elapsed.value))

  return { crank, running, elapsed, most, unkept, rest, ran, start, stop, toggle, take }
}

export type Starter = ReturnType<typeof useCrank>
