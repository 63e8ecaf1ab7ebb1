import { Button, Select } from '@mantine/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { useState } from 'react'
import { api, type LaneSummary, take } from '../../shared/api'
import { Dialog } from '../../shared/Dialog'
import { queries, useRenew } from '../../shared/queries'
import { Failed } from '../../shared/states'

type Wanted = { kind: string | null; source: string | null; target: string | null }

/**
 * Makes a lane: what flows, from which system, to which. It begins by hand, with the simplest rule or as another lane has it, and sends
 * nothing by itself.
 */
export function NewLane(props: { wanted: Partial<Wanted>; like?: LaneSummary; opened: boolean; close: () => void }) {
  const { wanted, like, opened, close } = props
  const renew = useRenew()
  const navigate = useNavigate()
  const works = useQuery(queries.works())
  const systems = useQuery(queries.systems())
  const hub = systems.data?.find((s) => s.isHub)?.id ?? null
  const [changed, setChanged] = useState<Partial<Wanted>>({})
  // Most flows from the hub; what is to flow to it comes from somewhere else.
  const lane: Wanted = { kind: null, source: wanted.target === hub ? null : hub, target: null, ...wanted, ...changed }
  const make = useMutation({
    mutationFn: ({ kind, source, target }: { kind: string; source: string; target: string }) =>
      take(
        like
          ? api.POST('/api/lanes/{id}/copy', { params: { path: { id: like.id } }, body: { source, target } })
          : api.POST('/api/lanes', { body: { kind, source, target } }),
      ),
    onSuccess: ({ id, work }) => {
      void renew('lanes')
      const first = work.steps.find((s) => s.key === 'map' || s.key === 'rule')?.key ?? 'scope'
      void navigate({ to: `/lanes/$lane/${first as 'rule'}`, params: { lane: id }, search: {} })
    },
  })
  const { kind, source, target } = lane
  const names = (systems.data ?? []).map((s) => ({ value: s.id, label: `${s.name}${s.isHub ? ' (hub)' : ''}` }))
  return (
    <Dialog title={like ? `A lane like “${like.name} to ${like.target.name}”` : 'A new lane'} opened={opened} close={close}>
      <div className="stack">
        <div className="field-grid" style={{ gridTemplateColumns: '110px minmax(0, 1fr)' }}>
          <span>What flows</span>
          <Select
            aria-label="What flows"
            data={(works.data ?? []).map((w) => ({ value: w.kind, label: w.label }))}
            value={kind}
            disabled={like !== undefined}
            allowDeselect={false}
            onChange={(v) => setChanged({ ...changed, kind: v })}
          />
          <span>From</span>
          <Select
            aria-label="From"
            allowDeselect={false}
            data={names}
            value={source}
            onChange={(v) => setChanged({ ...changed, source: v })}
          />
          <span>To</span>
          <Select
            aria-label="To"
            allowDeselect={false}
            data={names.filter((s) => s.value !== source)}
            value={target !== null && target === source ? null : target}
            onChange={(v) => setChanged({ ...changed, target: v })}
          />
        </div>
        <span className="dim small">
          {like && 'It takes over the rule, the map with its crosswalks, the guards and the scope. '}
          It runs by hand until you give it a timetable, and sends nothing before you have seen a preview.
        </span>
        {make.isError && <Failed error={make.error} />}
        <div className="row">
          <span className="grow" />
          <Button onClick={close}>Not now</Button>
          <Button
            variant="filled"
            disabled={!kind || !source || !target || source === target}
            loading={make.isPending}
            onClick={() => kind && source && target && make.mutate({ kind, source, target })}
          >
            Make the lane
          </Button>
        </div>
      </div>
    </Dialog>
  )
}
