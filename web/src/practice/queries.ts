import { api, ask } from '@/api/client'

export const practiceQuery = { queryKey: ['practice'], queryFn: () => ask(api.GET('/api/practice')) }

export const caseQuery = (engine: string) => ({
  queryKey: ['practice', engine],
  queryFn: () => ask(api.GET('/api/practice/{engine}', { params: { path: { engine } } })),
})

export const debriefQuery = (engine: string) => ({
  queryKey: ['practice', engine, 'debrief'],
  queryFn: () => ask(api.GET('/api/practice/{engine}/debrief', { params: { path: { engine } } })),
  retry: false,
})
