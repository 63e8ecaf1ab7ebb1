import { HubConnectionBuilder, LogLevel } from '@microsoft/signalr'
import type { QueryClient } from '@tanstack/react-query'
import { useSyncExternalStore } from 'react'
import type { Topic } from './queries'

export type Happening = { topic: string; id: string; phase?: string; done?: number; total?: number }

const latest = new Map<string, Happening>()
const listeners = new Set<() => void>()

/** Which cached answers an event makes stale, by what they are about. */
const stale: Record<string, Topic[]> = {
  read: ['systems', 'records'],
  system: ['systems', 'records', 'today'],
  job: ['jobs', 'timetable', 'turns', 'ribbon', 'lanes'],
  lane: ['lanes', 'timetable', 'today', 'couples', 'desk', 'seam', 'ribbon', 'rule', 'orders'],
  run: ['timetable', 'turns', 'jobs', 'exposure', 'runs', 'lanes', 'today', 'ribbon', 'writes', 'written', 'remarks', 'orders'],
  exposure: ['exposure', 'today'],
  mismatches: ['mismatches', 'today'],
  telling: ['telling'],
  proof: ['proofs', 'today'],
  pairs: ['couples', 'desk', 'today', 'lanes', 'items'],
}

/**
 * Asks again for what is stale. A query that waits for its very first answer is not asked twice at the same time;
 * that answer may have been given before the event, so such a query is asked once more as soon as it has it.
 */
async function renew(client: QueryClient, topic?: Topic) {
  const filter = topic === undefined ? {} : { queryKey: [topic] }
  const opening = client.getQueryCache().findAll({
    ...filter,
    predicate: (q) => q.state.data === undefined && q.state.fetchStatus !== 'idle',
  })
  await client.invalidateQueries(filter)
  for (const { queryKey } of opening) void client.invalidateQueries({ queryKey, exact: true })
}

/** Listens to the server; where nothing could be heard, before the line was there or after a break, it asks for everything again. */
export function listen(client: QueryClient) {
  const due = new Set<Topic>()
  let timer: ReturnType<typeof setTimeout> | undefined
  const connection = new HubConnectionBuilder()
    .withUrl('/live')
    .withAutomaticReconnect({ nextRetryDelayInMilliseconds: () => 2000 })
    .configureLogging(LogLevel.None)
    .build()
  connection.on('happened', (what: Happening) => {
    latest.set(`${what.topic}:${what.id}`, what)
    for (const listener of listeners) listener()
    for (const topic of stale[what.topic] ?? []) due.add(topic)
    // Events come in bursts; what they make stale is asked for once a burst, so that a page that is just opened is not kept waiting.
    if (timer !== undefined) return
    timer = setTimeout(() => {
      timer = undefined
      const topics = [...due]
      due.clear()
      for (const topic of topics) void renew(client, topic)
    }, 200)
  })
  connection.onreconnected(() => void renew(client))
  const start = () =>
    connection
      .start()
      .catch(() => setTimeout(start, 3000))
      .finally(() => void renew(client))
  void start()
}

/** The last thing that was heard of something. */
export function useHappening(topic: string, id: string): Happening | undefined {
  return useSyncExternalStore(
    (changed) => {
      listeners.add(changed)
      return () => listeners.delete(changed)
    },
    () => latest.get(`${topic}:${id}`),
  )
}
