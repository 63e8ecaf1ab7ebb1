import { queryOptions, useQueryClient } from '@tanstack/react-query'
import type { paths } from '../api/schema'
import { api, type Reply, type Schemas, take } from './api'

/** What an answer is about, the first key of each query. Events and acts make stale by it. */
export type Topic =
  | 'anonymise-after'
  | 'codes'
  | 'couples'
  | 'days-off'
  | 'desk'
  | 'draft'
  | 'exposure'
  | 'grants'
  | 'items'
  | 'job-advice'
  | 'job-look'
  | 'jobs'
  | 'lanes'
  | 'look'
  | 'mismatches'
  | 'orders'
  | 'proofs'
  | 'records'
  | 'remarks'
  | 'ribbon'
  | 'rule'
  | 'rule-choices'
  | 'runs'
  | 'samples'
  | 'seam'
  | 'search'
  | 'suggest'
  | 'synced'
  | 'systems'
  | 'telling'
  | 'timetable'
  | 'today'
  | 'trial'
  | 'turns'
  | 'works'
  | 'workspace'
  | 'writes'
  | 'written'

type Key = readonly [Topic, ...unknown[]]
/** A part of a list, and how long the whole is. */
export type Slice<T> = { total: number; offset: number; rows: T[] }

/** What a GET may be asked with, by its path in the API's document. */
type Asked<P extends keyof paths> = paths[P] extends { get: { parameters: { query?: infer Q } } }
  ? Omit<NonNullable<Q>, 'offset' | 'limit'>
  : never

/** A list of any length, asked for a page at a time. */
export type Pages<T, S extends Slice<T> = Slice<T>> = (offset: number, limit: number) => { queryKey: Key; queryFn: () => Promise<S> }

const one = <T>(queryKey: Key, call: (signal: AbortSignal) => Promise<Reply<T>>) =>
  queryOptions({ queryKey, queryFn: ({ signal }) => take(call(signal)) })

const pages =
  <S>(key: Key, call: (page: { offset: number; limit: number }) => Promise<Reply<S>>) =>
  (offset: number, limit: number) => ({ queryKey: [...key, offset, limit] as Key, queryFn: () => take(call({ offset, limit })) })

const at = (id: string) => ({ params: { path: { id } } })
const of = (id: number) => ({ params: { path: { id } } })

/** Everything that is asked of the API, by what it is about. */
export const queries = {
  today: (since?: string) => one(['today'], () => api.GET('/api/today', { params: { query: { since } } })),
  ribbon: () => one(['ribbon'], () => api.GET('/api/ribbon')),
  search: (text: string) => one(['search', text], (signal) => api.GET('/api/search', { params: { query: { text } }, signal })),

  workspace: () => one(['workspace'], () => api.GET('/api/workspace')),
  workspaceEffect: (body: Schemas['WorkspaceSettings']) =>
    one(['workspace', 'effect', body], () => api.POST('/api/workspace/effect', { body })),
  telling: () => one(['telling'], () => api.GET('/api/telling')),

  systems: () => one(['systems'], () => api.GET('/api/systems')),
  removedSystems: () => one(['systems', 'removed'], () => api.GET('/api/systems/removed')),
  fields: (id: string) => one(['systems', id, 'fields'], () => api.GET('/api/systems/{id}/fields', at(id))),
  fieldsAtWork: (id: string) => one(['systems', id, 'fields', 'at-work'], () => api.GET('/api/systems/{id}/fields/at-work', at(id))),
  /** Its description as text: as it is, or a version of it. */
  description: (id: string, revision: unknown, version?: number) =>
    one(['systems', id, 'document', revision, version], () =>
      version
        ? api.GET('/api/systems/{id}/versions/{number}', { params: { path: { id, number: version } }, parseAs: 'text' })
        : api.GET('/api/systems/{id}/document', { ...at(id), parseAs: 'text' }),
    ),
  descriptionVersions: (id: string, revision: unknown) =>
    one(['systems', id, 'versions', revision], () => api.GET('/api/systems/{id}/versions', at(id))),
  descriptionEffect: (id: string, body: Schemas['DescriptionToWeigh']) =>
    one(['systems', id, 'effect', body], () => api.POST('/api/systems/{id}/effect', { ...at(id), body })),
  removal: (id: string) => one(['systems', id, 'removal'], () => api.GET('/api/systems/{id}/removal', at(id))),
  hook: (id: string) => one(['systems', id, 'hook'], () => api.GET('/api/systems/{id}/hook', at(id))),
  /** Redeems what a system gave: once, and true from then on. */
  redeemed: (body: Schemas['GrantAnswer']) =>
    queryOptions({
      queryKey: ['grants', 'redeemed', body.state],
      queryFn: async () => {
        await take(api.POST('/api/grants/redeem', { body }))
        return true
      },
      retry: false,
      staleTime: Number.POSITIVE_INFINITY,
      refetchOnWindowFocus: false,
    }),
  grant: (id: string) => one(['grants', id], () => api.GET('/api/grants/{id}', at(id))),

  records: (id: string, kind: Schemas['RecordKind'], query: Asked<'/api/systems/{id}/records/{kind}'>) =>
    pages(['records', id, kind, query], (page) =>
      api.GET('/api/systems/{id}/records/{kind}', { params: { path: { id, kind }, query: { ...query, ...page } } }),
    ),
  record: (id: string, kind: Schemas['RecordKind'], key: string) =>
    one(['records', id, kind, 'one', key], () =>
      api.GET('/api/systems/{id}/records/{kind}/{key}', { params: { path: { id, kind, key } } }),
    ),
  valueHistory: (id: string, key: string, query: Asked<'/api/systems/{id}/items/{key}/history'>) =>
    one(['records', 'history', id, key, query], () =>
      api.GET('/api/systems/{id}/items/{key}/history', { params: { path: { id, key }, query } }),
    ),
  item: (key: string) => one(['items', key], () => api.GET('/api/items/{key}', { params: { path: { key } } })),
  exposure: (query: Asked<'/api/exposure'>) =>
    pages(['exposure', query], (page) => api.GET('/api/exposure', { params: { query: { ...query, ...page } } })),
  synced: (query: Asked<'/api/synced'>) =>
    pages(['synced', query], (page) => api.GET('/api/synced', { params: { query: { ...query, ...page } } })),
  syncedChoices: () => one(['synced', 'choices'], () => api.GET('/api/synced/choices')),
  syncedCount: (body: Schemas['SyncedChange']) =>
    one(['synced', 'count', body], () => api.POST('/api/synced', { body: { ...body, countOnly: true } })),

  couples: () => one(['couples'], () => api.GET('/api/couples')),
  couple: (id: number) => one(['couples', id], () => api.GET('/api/couples/{id}', of(id))),
  deskCauses: (id: number) => one(['desk', id, 'causes'], () => api.GET('/api/couples/{id}/causes', of(id))),
  deskRows: (id: number, query: Asked<'/api/couples/{id}/rows'>) =>
    pages(['desk', id, 'rows', query], (page) =>
      api.GET('/api/couples/{id}/rows', { params: { path: { id }, query: { ...query, ...page } } }),
    ),
  deskSeam: (id: number, hub: string | undefined, other: string | undefined) =>
    one(['desk', id, 'seam', hub, other], () => api.GET('/api/couples/{id}/seam', { params: { path: { id }, query: { hub, other } } })),
  deskSearch: (id: number, side: 'hub' | 'other', text: string) =>
    one(['desk', id, 'search', side, text], () =>
      api.GET('/api/couples/{id}/search', { params: { path: { id }, query: { side, text, limit: 30 } } }),
    ),
  habit: (id: number) => one(['desk', id, 'habit'], () => api.GET('/api/couples/{id}/habit', of(id))),
  readiness: (id: number, pattern: string | undefined) =>
    one(['desk', id, 'readiness', pattern], () => api.GET('/api/couples/{id}/readiness', { params: { path: { id }, query: { pattern } } })),
  readinessLines: (id: number, query: Asked<'/api/couples/{id}/readiness/lines'>) =>
    one(['desk', id, 'readiness', 'lines', query], () =>
      api.GET('/api/couples/{id}/readiness/lines', { params: { path: { id }, query: { ...query, limit: 500 } } }),
    ),
  stockTaking: (id: number) => one(['desk', id, 'stock-taking'], () => api.GET('/api/couples/{id}/stock-taking', of(id))),
  decisions: (id: number, batch?: number) =>
    one(['desk', id, 'decisions', batch], () => api.GET('/api/couples/{id}/decisions', { params: { path: { id }, query: { batch } } })),
  batches: (id: number) => one(['desk', id, 'batches'], () => api.GET('/api/couples/{id}/batches', of(id))),
  thrown: (id: number) => one(['desk', id, 'thrown'], () => api.GET('/api/couples/{id}/thrown', of(id))),
  usedBy: (id: number, batchId: number) =>
    one(['desk', id, 'used', batchId], () => api.GET('/api/couples/{id}/batches/{batchId}/used', { params: { path: { id, batchId } } })),

  works: () => ({ ...one(['works'], () => api.GET('/api/works')), staleTime: Number.POSITIVE_INFINITY }),
  lanes: () => one(['lanes'], () => api.GET('/api/lanes')),
  removedLanes: () => one(['lanes', 'removed'], () => api.GET('/api/lanes/removed')),
  lane: (id: string) => one(['lanes', id], () => api.GET('/api/lanes/{id}', at(id))),
  versions: (id: string) => one(['rule', id], () => api.GET('/api/lanes/{id}/rule/versions', at(id))),
  draft: (id: string) => one(['draft', id], () => api.GET('/api/lanes/{id}/draft', at(id))),
  ruleChoices: (id: string) => one(['rule-choices', id], () => api.GET('/api/lanes/{id}/rule/choices', at(id))),
  mapChoices: (id: string) => one(['rule-choices', id, 'map'], () => api.GET('/api/lanes/{id}/map/choices', at(id))),
  seam: (id: string, targetKey: string) =>
    one(['seam', id, targetKey], () => api.GET('/api/lanes/{id}/seam/{targetKey}', { params: { path: { id, targetKey } } })),
  samples: (id: string, search: string, comparedAt: unknown) =>
    one(['samples', id, search, comparedAt], () =>
      api.GET('/api/lanes/{id}/map/samples', { params: { path: { id }, query: { search: search || undefined } } }),
    ),
  suggestions: (id: string) => one(['suggest', id], () => api.POST('/api/lanes/{id}/map/suggest', { ...at(id), body: { map: {} } })),

  runs: (query: Asked<'/api/runs'>) =>
    pages(['runs', 'list', query], (page) => api.GET('/api/runs', { params: { query: { ...query, ...page } } })),
  run: (id: number) => one(['runs', id], () => api.GET('/api/runs/{id}', of(id))),
  starters: () => one(['runs', 'people'], () => api.GET('/api/runs/people')),
  troubles: (id: number, requests: unknown) =>
    pages(['runs', 'troubles', id, requests], (query) => api.GET('/api/runs/{id}/troubles', { params: { path: { id }, query } })),
  remarks: (id: number, cause?: string) =>
    pages(['remarks', id, cause], (page) => api.GET('/api/runs/{id}/remarks', { params: { path: { id }, query: { cause, ...page } } })),
  writes: (id: number, query: Asked<'/api/runs/{id}/writes'>) =>
    pages(['writes', id, query], (page) => api.GET('/api/runs/{id}/writes', { params: { path: { id }, query: { ...query, ...page } } })),
  write: (id: number, writeId: number) =>
    one(['writes', id, 'one', writeId], () => api.GET('/api/runs/{id}/writes/{writeId}', { params: { path: { id, writeId } } })),
  written: (query: Asked<'/api/written'>) =>
    pages(['written', query], (page) => api.GET('/api/written', { params: { query: { ...query, ...page } } })),

  orders: (query: Asked<'/api/orders'>) =>
    pages(['orders', 'list', query], (page) => api.GET('/api/orders', { params: { query: { ...query, ...page } } })),
  order: (id: string, key: string) =>
    one(['orders', 'one', id, key], () => api.GET('/api/lanes/{id}/orders/{key}', { params: { path: { id, key } } })),
  defaultItems: (lane?: string) =>
    one(['orders', 'default-items', lane], () => api.GET('/api/orders/default-items', { params: { query: { lane } } })),
  anonymiseAfter: () => one(['anonymise-after'], () => api.GET('/api/people/anonymise-after')),

  jobs: () => one(['jobs'], () => api.GET('/api/jobs')),
  job: (id: string) => one(['jobs', id], () => api.GET('/api/jobs/{id}', at(id))),
  jobHistory: (id: string, days: number) =>
    one(['jobs', id, 'history'], () => api.GET('/api/jobs/{id}/history', { params: { path: { id }, query: { days } } })),
  timetable: (query: Asked<'/api/timetable'>) => one(['timetable', query], () => api.GET('/api/timetable', { params: { query } })),
  turns: (query: Asked<'/api/timetable/turns'>) =>
    pages(['turns', query], (page) => api.GET('/api/timetable/turns', { params: { query: { ...query, ...page } } })),
  comingTurns: (query: Asked<'/api/timetable/coming'>) =>
    pages(['turns', 'coming', query], (page) => api.GET('/api/timetable/coming', { params: { query: { ...query, ...page } } })),
  daysOff: () => one(['days-off'], () => api.GET('/api/days-off')),

  causes: (query: Asked<'/api/mismatches/causes'>) =>
    one(['mismatches', 'causes', query], () => api.GET('/api/mismatches/causes', { params: { query } })),
  mismatches: (query: Asked<'/api/mismatches'>) =>
    pages(['mismatches', 'list', query], (page) => api.GET('/api/mismatches', { params: { query: { ...query, ...page } } })),
  mismatch: (id: number) => one(['mismatches', 'one', id], () => api.GET('/api/mismatches/{id}', of(id))),
  learned: () => one(['mismatches', 'learned'], () => api.GET('/api/mismatches/learned')),

  proofs: () => one(['proofs'], () => api.GET('/api/proofs')),
  proof: (id: number) => one(['proofs', id], () => api.GET('/api/proofs/{id}', of(id))),
  proofLines: (id: number, query: Asked<'/api/proofs/{id}/lines'>) =>
    pages(['proofs', id, query], (page) => api.GET('/api/proofs/{id}/lines', { params: { path: { id }, query: { ...query, ...page } } })),
}

/** What a change in hand would do: computed for each state of it, and for nobody later. */
export const trials = {
  job: (id: string | undefined, document: Schemas['JobDocument']) => ({
    ...one(['job-look', id, document], () => api.POST('/api/jobs/look', { body: { id: id ?? null, document } })),
    ...once,
  }),
  jobAct: (id: string, body: Schemas['JobAct']) => ({
    ...one(['job-look', id, body], () => api.POST('/api/jobs/{id}/look', { ...at(id), body })),
    ...once,
  }),
  advice: (body: Schemas['JobToAdvise'], file: string | undefined) => ({
    ...one(['job-advice', body.id, body.document, file], () => api.POST('/api/jobs/advice', { body })),
    ...once,
  }),
  /** What was tried before the last change is given up, or a large catalogue would be computed for every letter. */
  rule: (id: string, version: number, body: Schemas['RuleToTry'], comparedAt: unknown) => ({
    ...one(['trial', id, version, body, comparedAt], (signal) => api.POST('/api/lanes/{id}/rule/try', { ...at(id), signal, body })),
    retry: false,
  }),
  record: (id: string, body: Schemas['MapToLookAt'], comparedAt: unknown) => ({
    ...one(['look', id, body, comparedAt], (signal) => api.POST('/api/lanes/{id}/map/record', { ...at(id), signal, body })),
    retry: false,
  }),
  codes: (id: string, body: Schemas['CodesToLookAt'], comparedAt: unknown) => ({
    ...one(['codes', id, body, comparedAt], () => api.POST('/api/lanes/{id}/map/codes', { ...at(id), body })),
    retry: false,
  }),
}

const once = { retry: false, gcTime: 0 }

/** Makes stale what an act has changed, by what it is about; everything where nothing is named. */
export function useRenew() {
  const client = useQueryClient()
  return (...topics: Topic[]) =>
    Promise.all(topics.length === 0 ? [client.invalidateQueries()] : topics.map((topic) => client.invalidateQueries({ queryKey: [topic] })))
}
