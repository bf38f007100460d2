import { api, ask } from '@/api/client'

/** Sees to it that a cylinder of a practice engine has oil in it: a teaspoon, once. */
export async function oiled(engine: string, cylinder: number) {
  const path = { engine }
  try {
    const { acts } = await ask(api.GET('/api/practice/{engine}', { params: { path } }))
    if (acts.some((a) => a.what === 'oil' && a.cylinder === cylinder)) return
    await ask(api.POST('/api/practice/{engine}/do', { params: { path }, body: { what: 'oil', cylinder } }))
  } catch {
    // The server is away: nothing is cranked then either.
  }
}
