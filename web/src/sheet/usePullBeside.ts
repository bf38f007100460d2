import { useSessionStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { figureOf, noFigure } from '@/composables/figure'
import { fromField, inField } from '@/composables/shown'
import type { Work } from '@/composables/useSheet'
import { sayer } from '@/words/say'
import texts from '@/words/en/sheet.json'
import type { Mode } from './usePulls'

const says = sayer(texts)

/** What is known beside a reading, where somebody looks at it: of this test alone. */
export function usePullBeside(work: Work, mode: Mode) {
  const volts = ref('')
  const beats = useSessionStorage(`braxel.beats.${work.engine}.${work.session}`, '')
  const rpm = ref('')
  const oil = ref(inField(5, 'cc'))
  const all = computed(() => [
    { key: 'beats', words: says('compressions-3'), text: beats.value },
    { key: 'battery_v', words: says('battery'), text: volts.value },
    { key: 'rpm', words: says('rpm'), text: rpm.value },
    ...(mode === 'wet' ? [{ key: 'oil_cc', words: says('oil-2'), text: oil.value }] : []),
  ])
  const known = computed(() =>
    Object.fromEntries(all.value.map((b) => [b.key, b.key === 'oil_cc' ? fromField(b.text, 'cc') : figureOf(b.text)])),
  )
  /** What is no figure, in words; "" where all are. */
  function wrong(): string {
    const one = all.value.find((b) => Number.isNaN(known.value[b.key]))
    return one ? `${one.words}: ${noFigure(one.text)}` : ''
  }
  return { volts, beats, rpm, oil, known, wrong }
}
