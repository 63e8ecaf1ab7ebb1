import type { Schemas } from '../../../shared/api'

export type Resource = Schemas['RestResource']
export type Field = Schemas['RestField']
export type Call = { path?: string | null; method?: string; body?: Schemas['JsonElement'] | null }

type Listed = { kind: Schemas['RecordKind']; label: string }

/** What every description says, however its system is reached; docs/connect.md explains it. */
export type Described<R extends Listed = Listed> = {
  format: string
  name: string
  kind: Schemas['SystemKind']
  mark: string
  currency: string
  decimals?: number
  address: string
  resources: R[]
}

/** What a person puts together of a system that is called. */
export type Description = Described<Resource> & {
  authentication: Schemas['RestAuthentication']
  test?: { path: string; namePath?: string | null } | null
  replies?: Schemas['ReplyForm']
  limits?: { requestsPerSecond?: number; timeoutSeconds?: number; attempts?: number }
  errorPaths?: string[]
  failurePaths?: string[]
}

/** What speaks for a field, by the list's kind and the field's path. */
export type Evidence = Record<string, { values: string[]; reasons: string[] }>

export const evidenceOf = (kind: string, path?: string | null) => `${kind} ${path ?? ''}`

export const blank: Description = {
  format: 'narbit/rest-system/1',
  name: '',
  kind: 'webStore',
  mark: '',
  currency: 'EUR',
  address: '',
  authentication: { scheme: 'none' },
  limits: { requestsPerSecond: 5 },
  resources: [],
}

// What a description need not say, since it counts anyway.
const untold: Record<string, unknown> = {
  factor: 1,
  decimalMark: '.',
  required: false,
  canBeEmptied: true,
  role: 'none',
  method: 'GET',
  firstPage: 1,
  replies: 'json',
  numericKey: false,
  numericParent: false,
  keyInLocation: false,
  clientInBody: false,
  batchSize: 1,
  adds: false,
  single: false,
  ifMatch: false,
  withinSeconds: 120,
  header: 1,
  whole: true,
}

// An empty path means something: the reply itself.
const mayBeEmpty = new Set(['records', 'path'])

function isSaid([name, value]: [string, unknown]) {
  if (value === null || value === undefined || untold[name] === value) return false
  if (value === '') return mayBeEmpty.has(name)
  return !(Array.isArray(value) && value.length === 0 && name !== 'fields' && name !== 'resources')
}

/** The description without what goes without saying. */
function plain(value: unknown, name?: string): unknown {
  if (Array.isArray(value)) return value.map((v) => plain(v))
  if (value === null || typeof value !== 'object' || name === 'body') return value
  return Object.fromEntries(
    Object.entries(value)
      .filter(isSaid)
      .map(([n, v]) => [n, plain(v, n)]),
  )
}

export const asText = (description: Described) => JSON.stringify(plain(description), null, 2)

/** Whether a system is called; the others are reached by files. */
export const isCalled = (description: Pick<Described, 'format'>) => description.format === blank.format

/** What a text says, or why it says nothing. */
export function fromText(text: string): Description | string {
  try {
    const read = JSON.parse(text)
    // What it leaves out is not what a new one begins with.
    return isCalled(read) ? { ...blank, authentication: {}, limits: {}, ...read } : { resources: [], ...read }
  } catch (error) {
    return error instanceof Error ? error.message : 'It cannot be read.'
  }
}

/** A list that was read again takes the place of the one of its kind. */
export const withResource = <D extends Described>(description: D, resource: D['resources'][number]): D => ({
  ...description,
  resources: description.resources.some((r) => r.kind === resource.kind)
    ? description.resources.map((r) => (r.kind === resource.kind ? resource : r))
    : [...description.resources, resource],
})

/** Two letters and a short name that stand for a name. */
export function shortOf(name: string) {
  const words = name.split(/[^\p{L}\p{N}]+/u).filter(Boolean)
  const letters = words.length > 1 ? words.map((w) => w[0]).join('') : (words[0] ?? '')
  const id = words
    .join('-')
    .normalize('NFD')
    .replace(/[^\w-]/g, '')
    .toLowerCase()
    .slice(0, 40)
  return { mark: letters.slice(0, 2).toUpperCase(), id }
}

/** The text of a GraphQL query in a body; null: the body is something else. */
export function graphOf(body: unknown): string | null {
  const query = body && typeof body === 'object' && 'query' in body ? body.query : null
  return typeof query === 'string' ? query : null
}
