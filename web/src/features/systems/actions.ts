import { notifications } from '@mantine/notifications'
import { useMutation } from '@tanstack/react-query'
import { api, take } from '../../shared/api'
import { useRenew } from '../../shared/queries'
import { sayRefusal } from '../../shared/refusal'

export function useTestSystem() {
  const renew = useRenew()
  return useMutation({
    mutationFn: (system: string) => take(api.POST('/api/systems/{id}/test', { params: { path: { id: system } } })),
    onSuccess: (answer) => {
      notifications.show({
        color: answer.ok ? 'var(--glaze)' : 'var(--harm)',
        title: answer.ok ? 'It answers' : 'It does not work',
        message: answer.message,
        autoClose: 10_000,
      })
      void renew('systems')
    },
    onError: sayRefusal,
  })
}

/** Stops whatever of a system is being read; what is in the mirror stays as it was. */
export function useStopReading() {
  const renew = useRenew()
  return useMutation({
    mutationFn: (system: string) => take(api.POST('/api/systems/{id}/read/stop', { params: { path: { id: system } } })),
    onSuccess: () => void renew('systems'),
    onError: sayRefusal,
  })
}
