import { computed, ref, watch, type ComputedRef, type Ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { Work } from '@/composables/useSheet'
import type { pressureUnits } from '@/composables/figure'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'
import { filmedNote, keepFilm } from '@/film/keep'
import { noteOf } from './traces'
import type { Starter } from './useCrank'
import { useGauge } from './useGauge'

const says = sayer(texts)

/** What the step has that a gauge writes into. */
interface Step {
  current: ComputedRef<number>
  /** The half-typed figure: nothing is kept by itself over one. */
  typed: Ref<string>
  /** Something is asked for, or the starter has just run. */
  wanted: () => boolean
  starter: Starter
  fault: Ref<string>
  enter: (
    cylinder: number,
    text: string,
    value: number,
    seconds?: number,
    more?: Partial<Schemas['PullBody']>,
  ) => Promise<boolean>
  /** The picture of a reading that came by the camera. */
  picture: () => Blob | undefined
}

/** A gauge that speaks: its reading is kept by itself when it stops rising, or by Enter; with its curve. */
export function useLivePull(work: Work, unit: Ref<(typeof pressureUnits)[number]>, step: Step) {
  const { current, typed, starter, fault } = step
  const live = useGauge(unit)
  const phase = computed(() => live.speaks.value && live.now.value?.phase)
  /** What the needle has come to, and Enter would keep. */
  const shows = computed(() => {
    const now = live.now.value
    const there = phase.value === 'settled' || phase.value === 'stopped' || phase.value === 'rising'
    return there && (now?.beats ?? 0) > 0 ? now!.reading : undefined
  })
  /** The reading that was seen to rise here, and its cylinder, wherever the sheet has gone since; and one that was typed instead. */
  const risen = ref<{ pull: number; cylinder: number }>()
  const typedInstead = ref(0)
  watch(
    () => (phase.value === 'rising' ? live.now.value!.pull : 0),
    (pull) => pull && (risen.value = { pull, cylinder: current.value }),
  )
  /** Nothing is kept by itself over a figure that is being typed, of a test that is finished, or when nothing is asked for. */
  const ready = computed(
    () =>
      live.hands.value &&
      phase.value === 'settled' &&
      live.now.value!.pull === risen.value?.pull &&
      live.now.value!.pull !== typedInstead.value &&
      typed.value === '' &&
      work.sheet.value!.session.open &&
      step.wanted(),
  )
  watch(ready, (is) => is && void take(risen.value!.cylinder, risen.value!.pull))

  /** What was typed is of the reading that the gauge shows: it is not kept a second time. */
  function typedOver(cylinder: number) {
    if (shows.value === undefined) return
    typedInstead.value = live.now.value!.pull ?? 0
    void live.take(work.engine, cylinder, typedInstead.value)
  }

  let taking = false
  /** Keeps what the gauge shows; one reading by its number, or whichever it is. */
  async function take(cylinder: number, pull = 0) {
    if (taking) return
    taking = true
    const seconds = starter.take(cylinder)
    const name = live.heard.value?.name
    const took = await live.take(work.engine, cylinder, pull)
    taking = false
    if (typeof took === 'string') {
      if (pull === 0) fault.value = took // another sheet may have been quicker: it has it
      return
    }
    const one = took.pulls?.[0]
    if (!one) return
    fault.value = ''
    const { beats, rpm, camera_sd } = one
    const more = { beats, rpm, camera_sd, note: says('from', { name }) }
    const is = await step.enter(cylinder, String(one.value), one.value, seconds, more)
    if (is && took.trace) await work.enterAll('look', [noteOf(took.trace, { cylinder })])
    const picture = camera_sd && step.picture()
    if (is && picture) await keepFilm(work, { cylinder }, filmedNote(camera_sd, one.unit), undefined, picture)
  }

  return { live, shows, take, typedOver }
}
