import { notifications } from '@mantine/notifications'
import { useMutation } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { api, Refusal, type Schemas, take } from '../../shared/api'
import { plural } from '../../shared/format'
import { useRenew } from '../../shared/queries'

export function sayRefusal(error: unknown) {
  notifications.show({
    color: 'var(--harm)',
    title: error instanceof Refusal ? error.title : 'Something went wrong',
    message: error instanceof Error ? error.message : String(error),
    autoClose: 12_000,
  })
}

/** Starts a lane: a preview leads to its change set, a run to its progress. */
export function useStartRun() {
  const renew = useRenew()
  const navigate = useNavigate()
  return useMutation({
    mutationFn: ({ lane, preview }: { lane: string; preview: boolean }) =>
      take(api.POST('/api/lanes/{id}/runs', { params: { path: { id: lane } }, body: { preview } })),
    onSuccess: ({ runId }, { lane, preview }) => {
      void renew('runs', 'lanes')
      if (preview) void navigate({ to: '/lanes/$lane/preview', params: { lane }, search: {} })
      else void navigate({ to: '/runs/$run', params: { run: String(runId) }, search: {} })
    },
    onError: sayRefusal,
  })
}

export function useSend(run: number) {
  const renew = useRenew()
  const navigate = useNavigate()
  return useMutation({
    mutationFn: (choice: Schemas['Choice']) => take(api.POST('/api/runs/{id}/send', { params: { path: { id: run } }, body: choice })),
    onSuccess: ({ count }) => {
      notifications.show({ color: 'var(--glaze)', message: `${plural(count, 'record')} on the way.` })
      void renew('runs', 'writes')
      void navigate({ to: '/runs/$run', params: { run: String(run) }, search: { show: 'sent' } })
    },
    onError: sayRefusal,
  })
}

export function useTryAgain(run: number) {
  const renew = useRenew()
  return useMutation({
    mutationFn: () => take(api.POST('/api/runs/{id}/again', { params: { path: { id: run } } })),
    onSuccess: () => {
      void renew('runs', 'writes')
    },
    onError: sayRefusal,
  })
}

/** Stops a run that is at work, between two batches; what was sent stays, the rest can be tried again. */
export function useStop(run: number) {
  const renew = useRenew()
  return useMutation({
    mutationFn: () => take(api.POST('/api/runs/{id}/stop', { params: { path: { id: run } } })),
    onSuccess: () => void renew('runs'),
    onError: sayRefusal,
  })
}

/** Plans the opposite of a run, or of chosen records of it, and shows it; nothing is written before it is sent. */
export function useRollBack(run: number) {
  const navigate = useNavigate()
  return useMutation({
    mutationFn: (only: number[] | null) => take(api.POST('/api/runs/{id}/rollback', { params: { path: { id: run } }, body: { only } })),
    onSuccess: (started) => void navigate({ to: '/runs/$run', params: { run: String(started.runId) }, search: {} }),
    onError: sayRefusal,
  })
}

/** Says that nothing of a change set is to be sent. */
export function useDismiss(run: number) {
  const renew = useRenew()
  return useMutation({
    mutationFn: () => take(api.POST('/api/runs/{id}/dismiss', { params: { path: { id: run } } })),
    onSuccess: () => {
      void renew('runs', 'lanes')
      notifications.show({ message: 'Nothing is sent. The next run computes it anew.' })
    },
    onError: sayRefusal,
  })
}

/** Decides, for records that were changed on both sides, that the other side's value stands. */
export function useLetThereCount(run: number) {
  const renew = useRenew()
  return useMutation({
    mutationFn: (only: number[] | null) => take(api.POST('/api/runs/{id}/there', { params: { path: { id: run } }, body: { only } })),
    onSuccess: ({ count }) => {
      void renew('runs', 'writes')
      notifications.show({ message: `Decided for ${plural(count, 'record')}. The next run goes by it.` })
    },
    onError: sayRefusal,
  })
}
