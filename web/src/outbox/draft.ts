import { pressureOr } from '@/composables/shown'
import type { Schemas } from '@/api/client'
import type { Waiting } from './disk'
import { sayer } from '@/words/say'
import texts from '@/words/en/outbox.json'

const says = sayer(texts)

type Engine = Schemas['Engine']
type Session = Schemas['Session']
type Sheet = Schemas['Sheet']
export type Rulebook = Schemas['Rulebook']

/** Lays a change over what it changes (RFC 7396): null clears, objects are gone into, all else is replaced. */
export function merged<T extends object>(over: T, change: object): T {
  const out = { ...over } as Record<string, unknown>
  for (const [key, value] of Object.entries(change)) {
    if (value === null) delete out[key]
    else if (typeof value === 'object' && !Array.isArray(value))
      out[key] = merged((out[key] ?? {}) as object, value as object)
    else out[key] = value
  }
  return out as T
}

/** The engine as it is known here, with the changes to it that wait; undefined where nobody has heard of it. */
export function engineWith(known: Engine | undefined, id: string, waiting: Waiting[]): Engine | undefined {
  const changes = waiting.filter((w) => w.entry.kind === 'engine' && w.entry.engine === id)
  if (!known && changes.length === 0) return undefined
  return changes.reduce((e, w) => merged(e, w.entry.body), { ...known, id } as Engine)
}

/** A test's head with the changes to it that wait; undefined where nobody has begun it. */
export function headWith(known: Session | undefined, id: string, waiting: Waiting[]): Session | undefined {
  const changes = waiting.filter((w) => w.entry.kind === 'test' && (w.entry.body as { id?: string }).id === id)
  if (!known && changes.length === 0) return undefined
  return changes.reduce((s, w) => merged(s, w.entry.body), { ...known, id } as Session)
}

/**
 * The sheet of a test that the server has not heard of yet: its cylinders in their order, and nothing that would have to be
 * worked out. What is said of it comes when the server is back.
 */
export function draftSheet(engine: Engine, session: Session, book: Rulebook, waiting: Waiting[] = []): Sheet {
  const banks = engine.layout.banks ?? []
  const cylinders = banks.flat()
  const faces = [1, 2, 3].map((face) => ({ face, pulls: [] }))
  const rotors =
    engine.kind === 'rotary'
      ? Array.from({ length: engine.layout.rotors ?? 1 }, (_, i) => ({
          rotor: i + 1,
          place: '',
          faces,
          settled: false,
        }))
      : undefined
  const name = (c: number) => engine.layout.names?.[String(c)]
  const cells = cylinders.map((cylinder) => ({ cylinder, name: name(cylinder), place: '', pulls: [], settled: false }))
  const order = engine.firing_order?.length ? engine.firing_order : cylinders
  const next = (cylinder: number | undefined) => ({
    cylinder: cylinder ?? 0,
    say: cylinder ? says('next-cylinder', { cylinder }) : says('all-read'),
    again: false,
  })
  /** How many readings of a cylinder wait; as many as the protocol asks for are enough. */
  const waits = (kind: string, c: number) =>
    waiting.filter((w) => {
      const b = w.entry.body as { test?: string; cylinder?: number; rotor?: number; mode?: string }
      return w.entry.kind === kind && b.test === session.id && (b.rotor ?? b.cylinder) === c && b.mode !== 'wet'
    }).length
  const enough = (c: number) => waits('pull', c) >= (rotors ? 3 : book.enough)
  return {
    revision: 0,
    name: engine.name,
    about: '',
    engine,
    builds: [],
    session,
    protocol: book.protocol,
    steps: book.steps[engine.kind] ?? [],
    enough: book.enough,
    unit: pressureOr('psi'),
    leak_unit: pressureOr('psi'),
    before: [],
    crank: book.crank,
    others: [],
    after: [],
    unread: [],
    cells,
    rotors,
    prompt: next((rotors?.map((r) => r.rotor) ?? cylinders).find((c) => !enough(c))),
    wet: cells.map((c) => ({ ...c, asked: false })),
    wet_prompt: { cylinder: 0, say: '', again: false },
    leak: order.map((cylinder) => ({
      cylinder,
      name: name(cylinder),
      place: '',
      say: says('bring-tdc-compression', { cylinder }),
      beside: engine.layout.radial ? [] : besides(banks, cylinder),
      attempts: [],
    })),
    leak_asked: false,
    leak_prompt: next(order.find((c) => !waits('leakdown', c))),
    warnings: [],
    kept: 0,
    verdict: {
      id: session.id,
      state: 'steady',
      headline: says('not-judged-yet'),
      sentence: says('judged-when-back'),
      cylinders: [],
      causes: [],
    },
    evenness: [],
  }
}

function besides(banks: number[][], cylinder: number): number[] {
  const bank = banks.find((b) => b.includes(cylinder)) ?? []
  const at = bank.indexOf(cylinder)
  return [bank[at - 1], bank[at + 1]].filter((c) => c !== undefined)
}
