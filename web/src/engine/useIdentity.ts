import { reactive } from 'vue'
import type { Schemas } from '@/api/client'

type Identity = Schemas['Identity']
export type Number = 'serial' | 'block' | 'head' | 'casting' | 'chassis' | 'seal'
const blank = () => ({
  serial: '',
  block: '',
  head: '',
  casting: '',
  chassis: '',
  seal: '',
  builder: '',
  phone: '',
  email: '',
  spec: [] as { what: string; value: string; unit: string }[],
  owners: [] as { name: string; until: string }[],
})
export type IdentityForm = ReturnType<typeof blank>

/** Which engine it is and whose, as it is typed. */
export function useIdentity(was: () => Identity | undefined) {
  const form = reactive(blank())
  function fill(i: Identity | undefined) {
    const { spec, owners, ...rest } = i ?? {}
    Object.assign(form, blank(), rest)
    form.spec = (spec ?? []).map((r) => ({ value: '', unit: '', ...r }))
    form.owners = (owners ?? []).map((o) => ({ until: '', ...o }))
  }
  /** As far as any of it is given; what else was in it is kept. A row without a name says nothing. */
  function given(): Identity | undefined {
    const text = Object.fromEntries(
      Object.entries(form).map(([key, v]) => [key, typeof v === 'string' ? v.trim() || undefined : v]),
    )
    const spec = form.spec
      .filter((r) => r.what.trim())
      .map((r) => ({ what: r.what.trim(), value: r.value.trim() || undefined, unit: r.unit.trim() || undefined }))
    const owners = form.owners
      .filter((o) => o.name.trim())
      .map((o) => ({ name: o.name.trim(), until: o.until.trim() || undefined }))
    const some = spec.length || owners.length || Object.values(text).some((v) => typeof v === 'string')
    return some || was() ? { ...was(), ...text, spec, owners } : undefined
  }
  return { form, fill, given }
}
