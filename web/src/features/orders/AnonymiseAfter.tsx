import { NumberInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useMutation, useQuery } from '@tanstack/react-query'
import { api, take } from '../../shared/api'
import { queries, useRenew } from '../../shared/queries'

/** After how many days orders are anonymised by themselves. */
export function AnonymiseAfter() {
  const renew = useRenew()
  const after = useQuery(queries.anonymiseAfter())
  const set = useMutation({
    mutationFn: (days: number | null) => take(api.PUT('/api/people/anonymise-after', { body: { days } })),
    onSuccess: ({ days }) => {
      const said = days === null ? 'Orders are not anonymised by themselves.' : `Orders are anonymised ${days} days after they were placed.`
      notifications.show({ color: 'var(--glaze)', message: said })
      void renew('anonymise-after')
    },
    onError: (error) => notifications.show({ color: 'var(--harm)', message: error.message }),
  })
  if (!after.data) return null
  return (
    <span className="row small" style={{ gap: 6 }}>
      <label htmlFor="anonymise-after" className="dim">
        buyers anonymised after
      </label>
      <NumberInput
        id="anonymise-after"
        key={after.data.days ?? 'never'}
        size="xs"
        w={100}
        min={1}
        max={36500}
        placeholder="never"
        suffix=" days"
        defaultValue={after.data.days ?? ''}
        onBlur={(e) => {
          const days = Number.parseInt(e.currentTarget.value, 10)
          const wanted = Number.isNaN(days) ? null : days
          if (wanted !== after.data.days) set.mutate(wanted)
        }}
      />
    </span>
  )
}
