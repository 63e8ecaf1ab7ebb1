import { notifications } from '@mantine/notifications'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, type Schemas, take } from '../../shared/api'
import { plural } from '../../shared/format'
import { useRenew } from '../../shared/queries'
import { sayRefusal } from '../../shared/refusal'

export type Couple = Schemas['CoupleView']
export type DeskRow = Schemas['DeskRow']
export type Decision = Schemas['DecisionToMake']

export const say = (message: string) => notifications.show({ color: 'var(--glaze)', message })

const sayFaults = (faults: Schemas['CommitFault'][]) => {
  for (const fault of faults.slice(0, 3)) sayRefusal(new Error(fault.message))
}

/** Everything that shows pairs is stale after something was decided. */
function useRefresh() {
  const renew = useRenew()
  return () => renew('couples', 'desk', 'seam', 'today', 'lanes', 'items')
}

/** What can be done at the desk of one couple. */
export function useDesk(id: number) {
  const refresh = useRefresh()
  const path = { path: { id } }
  const settled = { onSettled: () => void refresh(), onError: sayRefusal }
  const client = useQueryClient()
  // Decisions go one after the other, in the order in which they were made; the page is renewed when the last one has gone.
  const inTurn = {
    scope: { id: `desk-${id}` },
    mutationKey: ['desk', id, 'decide'],
    onSettled: async () => {
      if (client.isMutating({ mutationKey: ['desk', id, 'decide'] }) <= 1) await refresh()
    },
    onError: sayRefusal,
  }
  return {
    /** Whether a decision is still on its way. */
    isDeciding: () => client.isMutating({ mutationKey: ['desk', id, 'decide'] }) > 0,
    decide: useMutation({
      mutationFn: (decisions: Decision[]) => take(api.POST('/api/couples/{id}/decisions', { params: path, body: { decisions } })),
      ...inTurn,
    }),
    decideAll: useMutation({
      mutationFn: (body: Schemas['DecideAll']) => take(api.POST('/api/couples/{id}/decisions/all', { params: path, body })),
      onSuccess: ({ decisions }) => say(`${plural(decisions, 'decision')} added. Nothing is in force before you commit.`),
      ...settled,
    }),
    withdraw: useMutation({
      mutationFn: (decision?: number) =>
        take(api.POST('/api/couples/{id}/decisions/withdraw', { params: { ...path, query: { decision } } })),
      onSuccess: ({ decision }) => say(decision ? `Taken back: ${decision.words}.` : 'No decision is waiting.'),
      ...inTurn,
    }),
    throwAway: useMutation({
      mutationFn: () => take(api.DELETE('/api/couples/{id}/decisions', { params: path })),
      onSuccess: ({ count }) => say(`${plural(count, 'decision')} thrown away. They can be brought back under “Review”.`),
      ...settled,
    }),
    bringBack: useMutation({
      mutationFn: (thrownAt: string) => take(api.POST('/api/couples/{id}/thrown/back', { params: path, body: { thrownAt } })),
      onSuccess: ({ committed, faults }) => {
        say(`${plural(committed, 'decision')} waiting again.`)
        sayFaults(faults)
      },
      ...settled,
    }),
    commit: useMutation({
      mutationFn: (body: { only: number[] | null; note: string | null }) =>
        take(api.POST('/api/couples/{id}/commit', { params: path, body })),
      onSuccess: ({ committed, faults }) => {
        if (committed > 0) say(`${plural(committed, 'decision')} in force.`)
        sayFaults(faults)
      },
      ...settled,
    }),
    undo: useMutation({
      mutationFn: (batchId: number) => take(api.POST('/api/couples/{id}/batches/{batchId}/undo', { params: { path: { id, batchId } } })),
      onSuccess: ({ committed, faults }) => {
        say(`${plural(committed, 'decision')} taken back.`)
        sayFaults(faults)
      },
      ...settled,
    }),
    redo: useMutation({
      mutationFn: (batchId: number) => take(api.POST('/api/couples/{id}/batches/{batchId}/redo', { params: { path: { id, batchId } } })),
      onSuccess: ({ committed, faults }) => {
        say(`${plural(committed, 'decision')} in force again.`)
        sayFaults(faults)
      },
      ...settled,
    }),
    close: useMutation({
      mutationFn: (closed: boolean) => take(api.PUT('/api/couples/{id}/closed', { params: path, body: { closed } })),
      ...settled,
    }),
    pair: useMutation({
      mutationFn: () => take(api.POST('/api/couples/{id}/pair', { params: path, body: { read: true } })),
      onSuccess: () => say('Both sides are read, and what is open is paired anew.'),
      ...settled,
    }),
    takeStock: useMutation({
      mutationFn: (way: Schemas['StockTakingWay']) => take(api.POST('/api/couples/{id}/stock-taking', { params: path, body: { way } })),
      onSuccess: ({ decisions }) => say(`The stock-taking is done: ${plural(decisions, 'decision')} in force.`),
      ...settled,
    }),
    habit: useMutation({
      mutationFn: (body: Schemas['HabitChange']) => take(api.PUT('/api/couples/{id}/habit', { params: path, body })),
      ...settled,
    }),
  }
}
