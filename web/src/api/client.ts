import createClient from 'openapi-fetch'
import { heardFrom } from './clock'
import { heard } from './door'
import { base } from './base'
import type { components, paths } from './schema.gen'

export type Schemas = components['schemas']
export type State = 'steady' | 'retest' | 'watch' | 'act' | 'stop'

/** What the server answers when it refuses: a sentence, and the fields it is about. */
export type Problem = Schemas['ErrorModel']

export const api = createClient<paths>({ baseUrl: `${base}/` })
api.use({
  onResponse: ({ response, request }) => {
    heardFrom(response.headers, request.method !== 'GET' || request.url.endsWith('/api/door'))
    if (!request.url.endsWith('/api/door')) heard(response.status)
  },
})

/** Refused is an answer of the server; any other error means that it could not be reached. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.errors?.[0]?.message ?? problem.detail ?? 'refused')
  }
}

/** Unwraps an answer of the API: its data, or a Refused. */
export async function ask<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await call
  if (error !== undefined || !response.ok) throw new Refused(response.status, (error ?? {}) as Problem)
  return data as T
}

/** The message for a field of the body, such as "name" or "layout.banks"; the fields below it count as its own. */
export function faultOf(problem: Problem | undefined, field: string): string | undefined {
  const at = `body.${field}`
  return problem?.errors?.find(
    (e) => e.location === at || e.location?.startsWith(`${at}.`) || e.location?.startsWith(`${at}[`),
  )?.message
}
