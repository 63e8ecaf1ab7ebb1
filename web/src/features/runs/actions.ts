import { notifications } from '@mantine/notifications'
import { useMutation } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { api, type Schemas, take } from '../../shared/api'
import { plural } from '../../shared/format'
import { useRenew } from '../../shared/queries'
import { sayRefusal } from '../../shared/refusal'

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
