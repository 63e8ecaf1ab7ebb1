import { notifications } from '@mantine/notifications'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, take } from '../../shared/api'
import { sayRefusal } from '../runs/actions'

export function useTestSystem() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (system: string) => take(api.POST('/api/systems/{id}/test', { params: { path: { id: system } } })),
    onSuccess: (answer) => {
      notifications.show({
        color: answer.ok ? 'var(--glaze)' : 'var(--harm)',
        title: answer.ok ? 'It answers' : 'It does not work',
        message: answer.message,
        autoClose: 10_000,
      })
      void queries.invalidateQueries({ queryKey: ['systems'] })
    },
    onError: sayRefusal,
  })
}

/** Stops whatever of a system is being read; what is in the mirror stays as it was. */
export function useStopReading() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (system: string) => take(api.POST('/api/systems/{id}/read/stop', { params: { path: { id: system } } })),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['systems'] }),
    onError: sayRefusal,
  })
}

export function useReadSystem() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ system, full }: { system: string; full: boolean }) =>
      take(api.POST('/api/systems/{id}/read', { params: { path: { id: system } }, body: { full } })),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['systems'] }),
    onError: sayRefusal,
  })
}
