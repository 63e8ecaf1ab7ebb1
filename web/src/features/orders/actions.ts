import { notifications } from '@mantine/notifications'
import { useMutation } from '@tanstack/react-query'
import type { Schemas } from '../../shared/api'
import { plural } from '../../shared/format'
import { useRenew } from '../../shared/queries'

/** An act about orders, after which all that shows them is asked anew. */
export function useOrderAct<T>(act: (what: T) => Promise<Schemas['OrderDecided']>) {
  const renew = useRenew()
  return useMutation({
    mutationFn: act,
    onSuccess: ({ moved }) => {
      const said = moved === 0 ? 'Kept. No order stands otherwise than before.' : `${plural(moved, 'order')} looked at anew.`
      notifications.show({ color: 'var(--glaze)', message: said })
      void renew('orders')
    },
    onError: (error) => notifications.show({ color: 'var(--harm)', message: error.message }),
  })
}
