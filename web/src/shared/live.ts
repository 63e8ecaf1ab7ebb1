import { HubConnectionBuilder, LogLevel } from '@microsoft/signalr'
import type { QueryClient } from '@tanstack/react-query'
import { useSyncExternalStore } from 'react'

export type Happening = { topic: string; id: string; phase?: string; done?: number; total?: number }

const latest = new Map<string, Happening>()
const listeners = new Set<() => void>()

/** Which cached answers an event makes stale, by their first key. */
const stale: Record<string, string[]> = {
  read: ['systems', 'records'],
  system: ['systems', 'records', 'today'],
  lane: ['lanes', 'today', 'couples', 'desk', 'seam', 'ribbon', 'rule'],
  run: ['exposure', 'runs', 'lanes', 'today', 'ribbon', 'writes', 'remarks'],
  pairs: ['couples', 'desk', 'today', 'lanes', 'items'],
}

/** Listens to the server; after a break it asks for everything again, so that nothing is missed. */
export function listen(queries: QueryClient) {
  const due = new Set<string>()
  let timer: ReturnType<typeof setTimeout> | undefined
  const connection = new HubConnectionBuilder()
    .withUrl('/live')
    .withAutomaticReconnect({ nextRetryDelayInMilliseconds: () => 2000 })
    .configureLogging(LogLevel.None)
    .build()
  connection.on('happened', (what: Happening) => {
    latest.set(`${what.topic}:${what.id}`, what)
    for (const listener of listeners) listener()
    for (const key of stale[what.topic] ?? []) due.add(key)
    // Events come in bursts; what they make stale is asked for once a burst, so that a page that is just opened is not kept waiting.
    if (timer !== undefined) return
    timer = setTimeout(() => {
      timer = undefined
      const keys = [...due]
      due.clear()
      for (const key of keys) void queries.invalidateQueries({ queryKey: [key] })
    }, 200)
  })
  connection.onreconnected(() => void queries.invalidateQueries())
  const start = () => connection.start().catch(() => setTimeout(start, 2000))
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
