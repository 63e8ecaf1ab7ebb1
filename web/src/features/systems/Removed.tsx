import { Button, Modal } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { api, type Schemas, take } from '../../shared/api'
import { count, plural, when } from '../../shared/format'
import { queries, useRenew } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Failed, Loaded } from '../../shared/states'

type System = Schemas['SystemSummary']

/** Pausing a system, and removing it once it is known what goes with it. */
export function Standing({ system }: { system: System }) {
  const renew = useRenew()
  const [asked, asking] = useDisclosure(false)
  const pause = useMutation({
    mutationFn: (paused: boolean) => take(api.PUT('/api/systems/{id}/paused', { params: { path: { id: system.id } }, body: { paused } })),
    onSuccess: () => void renew(),
  })
  return (
    <section className="sheet pad stack" style={{ maxWidth: 720 }} aria-label="At work">
      <h2>At work</h2>
      <div className="row">
        <span className="grow">
          {system.pausedAt
            ? `Paused ${when(system.pausedAt)} by ${system.pausedBy}: neither read nor written until it is resumed.`
            : 'It is read and written as its lanes need it.'}
        </span>
        <Button loading={pause.isPending} onClick={() => pause.mutate(!system.pausedAt)}>
          {system.pausedAt ? 'Resume it' : 'Pause it'}
        </Button>
        <Button onClick={asking.open}>Remove it</Button>
      </div>
      {pause.isError && <Failed error={pause.error} />}
      {asked && <Removal system={system} close={asking.close} />}
    </section>
  )
}

function Removal({ system, close }: { system: System; close: () => void }) {
  const renew = useRenew()
  const navigate = useNavigate()
  const effect = useQuery({
    ...queries.removal(system.id),
    gcTime: 0,
  })
  const remove = useMutation({
    mutationFn: () => take(api.DELETE('/api/systems/{id}', { params: { path: { id: system.id } } })),
    onSuccess: async () => {
      await navigate({ to: '/systems' })
      void renew()
      notifications.show({ color: 'var(--glaze)', message: `${system.name} is removed. It can be brought back below the list.` })
    },
  })
  return (
    <Modal opened onClose={close} title={`Remove ${system.name}`}>
      <Loaded of={effect}>
        {(e) => (
          <div className="stack">
            <span>{e.lanes.length === 0 ? 'No lane uses it.' : `${plural(e.lanes.length, 'lane')} will stop with it:`}</span>
            {e.lanes.length > 0 && (
              <ul style={{ margin: 0, paddingLeft: 18 }}>
                {e.lanes.map((l) => (
                  <li key={l}>{l}</li>
                ))}
              </ul>
            )}
            <span className="dim">
              {count(e.records)} records in the mirror, {plural(e.pairs, 'pair')} and everything that was written stay readable, and come
              back with it. {e.waiting > 0 ? `${plural(e.waiting, 'change set')} that wait will not be sent. ` : ''}
              {system.hasCredential ? 'Its credentials are forgotten now.' : ''}
            </span>
            {e.inTheWay && <div className="note ochre">{e.inTheWay.words}</div>}
            {remove.isError && <Failed error={remove.error} />}
            <div className="row">
              <Button
                color="var(--harm)"
                variant="filled"
                disabled={!!e.inTheWay}
                loading={remove.isPending}
                onClick={() => remove.mutate()}
              >
                Remove it
              </Button>
              <Button onClick={close}>Keep it</Button>
            </div>
          </div>
        )}
      </Loaded>
    </Modal>
  )
}

/** Systems that were removed, and the way back. */
export function RemovedSystems() {
  const renew = useRenew()
  const removed = useQuery(queries.removedSystems())
  const back = useMutation({
    mutationFn: (id: string) => take(api.POST('/api/systems/{id}/back', { params: { path: { id } } })),
    onSuccess: () => void renew(),
  })
  if (!removed.data?.length) return null
  return (
    <section className="sheet" aria-label="Removed systems">
      <div className="sheet-head">Removed</div>
      {removed.data.map((r) => (
        <div key={r.system.id} className="line" style={{ gridTemplateColumns: 'auto 1fr auto' }}>
          <SystemMark system={r.system} />
          <span>
            {r.system.name} <span className="dim small">{when(r.at)}</span>
          </span>
          <Button size="xs" loading={back.isPending} onClick={() => back.mutate(r.system.id)}>
            Bring back
          </Button>
        </div>
      ))}
      {back.isError && <Failed error={back.error} />}
    </section>
  )
}
