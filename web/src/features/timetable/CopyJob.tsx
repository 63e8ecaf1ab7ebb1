import { Button, Select, TextInput } from '@mantine/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { useState } from 'react'
import { api, take } from '../../shared/api'
import { Dialog } from '../../shared/Dialog'
import { queries } from '../../shared/queries'
import { Failed } from '../../shared/states'
import { type Job, useStale } from './job'

/** Makes the same job for another store: its lanes are that store's, or new ones like these. */
export function CopyJob({ job, close }: { job: Job; close: () => void }) {
  const navigate = useNavigate()
  const stale = useStale()
  const systems = useQuery(queries.systems())
  const own = new Set(job.lanes.flatMap((l) => [l.source.id, l.target.id]))
  const stores = (systems.data ?? []).filter((s) => !s.isHub)
  const [from, setFrom] = useState<string | null>(null)
  const [to, setTo] = useState<string | null>(null)
  const [name, setName] = useState<string>()
  const exchanged = from ?? stores.find((s) => own.has(s.id))?.id ?? null
  const called = name ?? `${job.document.name}${to ? `, ${stores.find((s) => s.id === to)?.name}` : ''}`.slice(0, 60)
  const copy = useMutation({
    mutationFn: () =>
      take(api.POST('/api/jobs/{id}/copy', { params: { path: { id: job.id } }, body: { name: called, from: exchanged, to } })),
    onSuccess: ({ id }) => {
      stale()
      void navigate({ to: '/timetable/$job', params: { job: id }, search: {} })
    },
  })
  const data = stores.map((s) => ({ value: s.id, label: s.name }))
  return (
    <Dialog title={`Copy “${job.document.name}” to another store`} opened close={close}>
      <div className="stack">
        <div className="field-grid" style={{ gridTemplateColumns: '110px minmax(0, 1fr)' }}>
          <span>In place of</span>
          <Select
            aria-label="In place of"
            allowDeselect={false}
            data={data.filter((s) => own.has(s.value))}
            value={exchanged}
            onChange={setFrom}
          />
          <span>For</span>
          <Select aria-label="For" allowDeselect={false} data={data.filter((s) => s.value !== exchanged)} value={to} onChange={setTo} />
          <span>Name</span>
          <TextInput aria-label="Name of the copy" value={called} onChange={(e) => setName(e.currentTarget.value)} />
        </div>
        <span className="dim small">
          Each lane that has to do with the one is replaced by the other’s, or by a new one like it. The copy is switched off at first.
        </span>
        {copy.isError && <Failed error={copy.error} />}
        <div className="row">
          <span className="grow" />
          <Button onClick={close}>Not now</Button>
          <Button variant="filled" disabled={!to || !exchanged} loading={copy.isPending} onClick={() => copy.mutate()}>
            Make the copy
          </Button>
        </div>
      </div>
    </Dialog>
  )
}
