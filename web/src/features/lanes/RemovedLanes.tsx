import { Button } from '@mantine/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { api, take } from '../../shared/api'
import { when } from '../../shared/format'
import { queries, useRenew } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Failed } from '../../shared/states'

/** Brings a removed lane back as it was. */
export function useBringBack() {
  const renew = useRenew()
  return useMutation({
    mutationFn: (id: string) => take(api.POST('/api/lanes/{id}/back', { params: { path: { id } } })),
    onSuccess: () => void renew(),
  })
}

/** Lanes that were removed: what they did, and the way back. */
export function RemovedLanes() {
  const removed = useQuery(queries.removedLanes())
  const back = useBringBack()
  if (!removed.data?.length) return null
  return (
    <section className="sheet" aria-label="Removed lanes">
      <div className="sheet-head">Removed</div>
      {removed.data.map((lane) => (
        <div key={lane.id} className="line" style={{ gridTemplateColumns: '96px 1fr auto auto' }}>
          <span className="row" style={{ gap: 5 }}>
            <SystemMark system={lane.source} /> → <SystemMark system={lane.target} />
          </span>
          <span>
            {lane.name} <span className="dim small">{when(lane.at)}</span>
          </span>
          <Link to="/runs" search={{ lane: lane.id }} className="act">
            What it did
          </Link>
          <Button size="xs" loading={back.isPending} onClick={() => back.mutate(lane.id)}>
            Bring back
          </Button>
        </div>
      ))}
      {back.isError && <Failed error={back.error} />}
    </section>
  )
}
