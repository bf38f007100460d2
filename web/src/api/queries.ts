import { queryOptions } from '@tanstack/vue-query'
import { api, ask, type Schemas } from './client'
import builtIn from './rulebook.gen.json'

/** What is due goes by the day: a page that stays open asks again now and then. */
const dayLong = 10 * 60_000

/** While engines are being judged anew, the rack is asked for again and again. */
export const rackQuery = queryOptions({
  queryKey: ['rack'],
  queryFn: () => ask(api.GET('/api/rack')),
  refetchInterval: (query) => (query.state.data?.pending ? 1500 : dayLong),
})

export const layoutsQuery = { queryKey: ['layouts'], queryFn: () => ask(api.GET('/api/layouts')), staleTime: Infinity }

export const engineQuery = (engine: string) => ({
  queryKey: ['engine', engine],
  queryFn: () => ask(api.GET('/api/engines/{engine}', { params: { path: { engine } } })),
})

export const wheelQuery = (engine: string) => ({
  queryKey: ['wheel', engine],
  queryFn: () => ask(api.GET('/api/engines/{engine}/wheel', { params: { path: { engine } } })),
})

export const diaryQuery = {
  queryKey: ['diary'],
  queryFn: () => ask(api.GET('/api/diary')),
  refetchInterval: dayLong,
}

export const engineSeasonQuery = (engine: string) => ({
  queryKey: ['engine', engine, 'season'],
  queryFn: () => ask(api.GET('/api/engines/{engine}/season', { params: { path: { engine } } })),
})

/** While engines are being weighed, the season is asked for again and again. */
export const seasonQuery = queryOptions({
  queryKey: ['season'],
  queryFn: () => ask(api.GET('/api/season')),
  refetchInterval: (query) => (query.state.data?.pending ? 1500 : dayLong),
})

export const compareQuery = (of: string[]) => ({
  queryKey: ['compare', ...of],
  queryFn: () => ask(api.GET('/api/compare', { params: { query: { of } } })),
  enabled: of.length > 0,
})

export const doorQuery = { queryKey: ['door'], queryFn: () => ask(api.GET('/api/door')) }
export const copiesQuery = { queryKey: ['copies'], queryFn: () => ask(api.GET('/api/copies')) }
export const testersQuery = { queryKey: ['testers'], queryFn: () => ask(api.GET('/api/testers')) }

export const builtInRulebook = builtIn as Schemas['Rulebook']

/** What is known of the job while the server is away, too: asked for at the start, and kept by the service worker. */
export const rulebookQuery = {
  queryKey: ['rulebook'],
  queryFn: () => ask(api.GET('/api/rulebook')),
  staleTime: dayLong,
  // The built-in one stands until the workshop's own is heard of.
  initialData: builtInRulebook,
  initialDataUpdatedAt: 0,
}

export const rulesQuery = { queryKey: ['rules'], queryFn: () => ask(api.GET('/api/rules')) }

export const protocolsQuery = { queryKey: ['protocols'], queryFn: () => ask(api.GET('/api/protocols')) }

export const recordQuery = (engine?: string) => ({
  queryKey: ['record', engine ?? ''],
  queryFn: () =>
    ask(engine ? api.GET('/api/engines/{engine}/record', { params: { path: { engine } } }) : api.GET('/api/record')),
})
