import createClient from 'openapi-fetch'
import type { components, paths } from '../api/schema'

export type Schemas = components['schemas']
export type LaneSummary = Schemas['LaneSummary']
export type Field = Pick<Schemas['ShownField'], 'type' | 'unit'>
export type LaneWork = Schemas['LaneWorkView']
export type Reason = Schemas['Reason']
export type RunSummary = Schemas['RunSummary']
export type SystemTag = Schemas['SystemTag']
export type TraceStep = Schemas['TraceStep']
export type WriteRow = Schemas['WriteRow']

export const api = createClient<paths>({ baseUrl: '/' })

/** What the API answers when it says no: problem details (RFC 9457). */
export class Refusal extends Error {
  constructor(
    readonly title: string,
    detail: string,
    readonly status: number,
    readonly code: string | undefined,
    readonly faults: Schemas['RuleFault'][],
  ) {
    super(detail)
  }
}

export type Reply<T> = { data?: T; error?: unknown; response: Response }

/** Takes the value out of a reply, or throws the refusal in it. */
export async function take<T>(reply: Promise<Reply<T>>): Promise<T> {
  let answer: Reply<T>
  try {
    answer = await reply
  } catch {
    throw new Refusal('No connection', 'Narbit does not answer. It may be restarting; this page tries again by itself.', 0, undefined, [])
  }
  if (answer.response.ok) return answer.data as T
  const problem = (answer.error ?? {}) as {
    title?: string
    detail?: string
    code?: string
    faults?: Schemas['RuleFault'][]
  }
  throw new Refusal(
    problem.title ?? 'Something went wrong',
    problem.detail ?? `The server answered ${answer.response.status}.`,
    answer.response.status,
    problem.code,
    problem.faults ?? [],
  )
}

/** Sends a file as a form, with what else is said of it. */
export async function sendFile<T>(path: string, file: File, said: Record<string, string> = {}): Promise<T> {
  const form = new FormData()
  form.append('file', file)
  for (const [name, value] of Object.entries(said)) form.append(name, value)
  const reply = await fetch(path, { method: 'POST', body: form })
  const answer = await reply.json()
  if (!reply.ok) throw new Refusal(answer.title ?? 'This cannot be used as it is', answer.detail ?? '', reply.status, answer.code, [])
  return answer
}
