import { reactive } from 'vue'
import type { Problem, Schemas } from '@/api/client'
import { figureOf, noFigure } from '@/composables/figure'
import { pressureOr } from '@/composables/shown'

type Limits = NonNullable<Schemas['Engine']['limits']>

/** The maker's or the builder's own limits, as they are typed. */
export function useLimits(kept: () => Limits | undefined) {
  const form = reactive({
    source: '',
    nominal: '',
    minimum: undefined as number | undefined,
    unit: pressureOr('psi') as Schemas['Reading']['unit'],
    spread: undefined as number | undefined,
    leak: undefined as number | undefined,
    freshen: undefined as number | undefined,
  })

  function fill(own?: Limits) {
    Object.assign(form, {
      source: own?.source ?? '',
      nominal: inUnit(own?.compression_nominal, own?.compression_minimum),
      minimum: own?.compression_minimum?.value,
      unit: (own?.compression_minimum ?? own?.compression_nominal)?.unit ?? pressureOr('psi'),
      spread: own?.spread_maximum_pct,
      leak: own?.leak_maximum_pct,
      freshen: own?.freshen_after,
    })
  }

  /** The spec as typed; left as it was, it keeps its own unit. */
  function nominal(): Schemas['Reading'] | undefined {
    const typed = form.nominal.trim()
    if (typed === '') return undefined
    const was = kept()?.compression_nominal
    if (was && typed === `${was.value} ${was.unit}`) return was
    return { value: figureOf(typed)!, unit: form.unit }
  }

  /** The limits, as far as any is given; what else was in them is kept. */
  function given(): Limits | undefined {
    const all = {
      ...kept(),
      source: form.source.trim() || undefined,
      compression_nominal: nominal(),
      compression_minimum: form.minimum === undefined ? undefined : { value: form.minimum, unit: form.unit },
      spread_maximum_pct: form.spread,
      leak_maximum_pct: form.leak,
      freshen_after: form.freshen,
    }
    return Object.values(all).some((v) => v !== undefined) ? all : undefined
  }

  /** The spec is no number, and is not what it was. Fields of figures say so themselves. */
  function faults(): NonNullable<Problem['errors']> {
    const was = kept()?.compression_nominal
    const asItWas = was && form.nominal === `${was.value} ${was.unit}`
    return Number.isNaN(figureOf(form.nominal)) && !asItWas
      ? [{ location: 'body.limits.compression_nominal', message: noFigure(form.nominal) }]
      : []
  }
  const figures = () => [form.minimum, form.spread, form.leak, form.freshen]
  return { form, fill, given, faults, figures }
}
export type LimitsForm = ReturnType<typeof useLimits>

/** The spec as the form shows it; one that is in another unit than the minimum is shown with its own. */
function inUnit(spec?: Schemas['Reading'], least?: Schemas['Reading']) {
  if (!spec) return ''
  return least && least.unit !== spec.unit ? `${spec.value} ${spec.unit}` : String(spec.value)
}
