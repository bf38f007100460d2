import type { Router } from 'vue-router'
import { api, ask } from '@/api/client'

/** Begins a test of the engine and opens its sheet; a test that is not finished is taken up again. It opens at the step, where one is given. */
export async function startTest(router: Router, engine: string, step?: string) {
  const path = { params: { path: { engine } } }
  const page = await ask(api.GET('/api/engines/{engine}', path))
  const session = page.open ?? (await ask(api.POST('/api/engines/{engine}/sessions', { ...path, body: {} }))).id
  await router.push(`/engines/${engine}/tests/${session}${step ? `/${step}` : ''}`)
}
