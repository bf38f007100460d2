import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import type { Problem, Schemas } from '@/api/client'
import { layoutsQuery } from '@/api/queries'
import { figureOf } from '@/composables/figure'
import { listed, namesOf, noName, noNumber } from '@/composables/lists'
import { sayer } from '@/words/say'
import texts from '@/words/en/engine-form.json'

const says = sayer(texts)

type Engine = Schemas['Engine']
export const groups = ['inline', 'vee', 'flat', 'single', 'radial', 'rotary']
const numbers = (text: string) => listed(text).numbers

/** How the cylinders or rotors of an engine stand and fire, as it is typed: chosen from the list, or by hand. */
export function useLayout() {
  const layouts = useQuery(layoutsQuery)
  const group = ref('inline')
  const preset = ref<Schemas['Preset']>()
  const banks = ref<string[]>(['1 2 3 4'])
  const order = ref('1 3 4 2')
  const intervals = ref<number[]>()
  const angle = ref<number | undefined>(0)
  /** The cylinder of a radial's master rod. */
  const master = ref<number>()
  /** A rotary has rotors, and its maker may give factors by speed, typed as "200 1.12, 250 1". */
  const rotors = ref(2)
  const factors = ref('')
  const rotary = computed(() => group.value === 'rotary')
  /** The owner's own names for cylinders, typed as "1 1L, 2 1R". */
  const called = ref('')
  /** The turns as they are in their field while they are no numbers. */
  const turnsTyped = ref<string>()

  const inGroup = computed(() => layouts.data.value?.filter((p) => p.group === group.value) ?? [])
  /** The numbers of cylinders to choose from; where numbering differs by maker, it is chosen below. */
  const sizes = computed(() => Map.groupBy(inGroup.value, (p) => p.name.split(',')[0]!))
  const numberings = computed(() => sizes.value.get(preset.value?.name.split(',')[0] ?? '') ?? [])
  const layout = computed((): Engine['layout'] =>
    rotary.value
      ? { rotors: rotors.value }
      : {
          banks: banks.value.map(numbers).filter((b) => b.length),
          ...(angle.value ? { bank_angle_deg: angle.value } : {}),
          ...(group.value === 'radial' ? { radial: true, master_rod: master.value } : {}),
        },
  )
  const bores = computed(() =>
    rotary.value ? Array.from({ length: rotors.value }, (_, i) => i + 1) : (layout.value.banks ?? []).flat(),
  )
  /** The turns as they are typed, "270 450"; empty where they are even. */
  const turns = computed({
    get: () => turnsTyped.value ?? intervals.value?.join(' ') ?? '',
    set: (text) => {
      turnsTyped.value = text
      intervals.value = text.trim() === '' ? undefined : listed(text).numbers
    },
  })

  function choose(p: Schemas['Preset']) {
    preset.value = p
    banks.value = p.layout.banks!.map((b) => b.join(' '))
    angle.value = p.layout.bank_angle_deg ?? 0
    fire(p.firings[0]!)
  }
  function fire(f: Schemas['Firing']) {
    order.value = f.order.join(' ')
    intervals.value = f.intervals_deg ?? undefined
    turnsTyped.value = undefined
  }
  /** Takes the group's most usual size: four cylinders, or the first. */
  function chooseGroup() {
    const usual = inGroup.value.find((p) => p.layout.banks!.flat().length === 4) ?? inGroup.value[0]
    if (usual) choose(usual)
  }

  /** The maker's factors as they are typed: pairs of a speed and a factor. */
  const speedTable = () =>
    factors.value
      .split(/[\n;]+|,\s+/)
      .map((row) => row.trim().split(/[\s:=]+/))
      .filter(([rpm]) => rpm)
      .map(([rpm, factor]) => ({ rpm: figureOf(rpm!)!, factor: figureOf(factor ?? '')! }))
  /** Even turns are of the order that they were chosen with; uneven ones stand, and are refused where they do not fit. */
  const fits = () => intervals.value?.length === numbers(order.value).length || new Set(intervals.value).size > 1

  /** Shows the layout of an engine that is on record. */
  function fill(e: Engine) {
    banks.value = (e.layout.banks ?? []).map((b) => b.join(' '))
    angle.value = e.layout.bank_angle_deg ?? 0
    master.value = e.layout.master_rod
    called.value = Object.entries(e.layout.names ?? {})
      .map(([n, name]) => `${n} ${name}`)
      .join(', ')
    rotors.value = e.layout.rotors ?? 2
    factors.value = (e.speed_table ?? []).map((row) => `${row.rpm} ${row.factor}`).join(', ')
    group.value = groupOf(e, banks.value.length)
    order.value = e.firing_order?.join(' ') ?? ''
    intervals.value = e.firing_intervals_deg
  }

  /** What an engine has of this. */
  function given(): Partial<Record<keyof Engine, unknown>> {
    const names = namesOf(called.value).names
    return {
      layout: { ...layout.value, ...(Object.keys(names).length ? { names } : {}) },
      firing_order: rotary.value ? [] : numbers(order.value),
      firing_intervals_deg: !rotary.value && fits() ? intervals.value : undefined,
      speed_table: rotary.value && factors.value.trim() ? speedTable() : undefined,
    }
  }

  /** What was typed and can't be read. A list is read where it can be; what can't be is said, and stands as it was typed. */
  function faults(): NonNullable<Problem['errors']> {
    const table = rotary.value && factors.value.trim() ? speedTable() : []
    if (table.some((row) => !(row.rpm > 0 && row.factor > 0)))
      return [{ location: 'body.speed_table', message: says('pairs-speed-factor-such-as') }]
    const lists = rotary.value
      ? []
      : [
          ...banks.value.map((text, i) => ({ location: `body.layout.banks.${i}`, none: listed(text).none })),
          { location: 'body.firing_order', none: listed(order.value).none },
          { location: 'body.firing_intervals_deg', none: listed(turns.value).none },
        ]
    const unnamed = namesOf(called.value).none
    return [
      ...lists.filter((l) => l.none).map((l) => ({ location: l.location, message: noNumber(l.none) })),
      ...(unnamed ? [{ location: 'body.layout.names', message: noName(unnamed) }] : []),
    ]
  }

  /** All that can be typed here, so that nothing of it is lost when the form is left. */
  const typed = () => ({
    group: group.value,
    banks: banks.value,
    order: order.value,
    intervals: intervals.value,
    angle: angle.value,
    called: called.value,
    rotors: rotors.value,
    factors: factors.value,
    master: master.value,
  })
  function restore(was: ReturnType<typeof typed>) {
    group.value = was.group
    banks.value = was.banks
    order.value = was.order
    intervals.value = was.intervals
    angle.value = was.angle
    called.value = was.called
    rotors.value = was.rotors ?? 2
    factors.value = was.factors ?? ''
    master.value = was.master
  }

  return {
    presets: layouts.data,
    group,
    preset,
    banks,
    order,
    intervals,
    angle,
    master,
    rotors,
    factors,
    rotary,
    called,
    turns, // prettier-ignore
    inGroup,
    sizes,
    numberings,
    layout,
    bores, // prettier-ignore
    choose,
    fire,
    chooseGroup,
    fill,
    given,
    faults,
    typed,
    restore, // prettier-ignore
  }
}
export type LayoutForm = ReturnType<typeof useLayout>

/** The group of layouts that an engine belongs to. */
function groupOf(e: Engine, banks: number): string {
  if (e.kind === 'rotary') return 'rotary'
  if (e.layout.radial) return 'radial'
  if (banks < 2) return 'inline'
  return e.layout.bank_angle_deg === 180 ? 'flat' : 'vee'
}
