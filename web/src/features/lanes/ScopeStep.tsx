import { Button, Switch, TextInput } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useMutation } from '@tanstack/react-query'
import { Link, useNavigate } from '@tanstack/react-router'
import { useState } from 'react'
import { api, type LaneSummary, take } from '../../shared/api'
import { useRenew } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Failed } from '../../shared/states'
import { useDraft } from './draft'
import { kindOf } from './kinds'
import { NewLane } from './NewLane'

/** What the lane takes, whether it is on, and for items how it publishes. */
export function ScopeStep() {
  const { lane } = useDraft()
  const { Scope } = kindOf(lane.kind)
  return (
    <div className="side scope">
      <Lane key={lane.id} lane={lane} />
      {Scope && <Scope />}
    </div>
  )
}

function Lane({ lane }: { lane: LaneSummary }) {
  const renew = useRenew()
  const [start, setStart] = useState(lane.skuStartsWith ?? '')
  const [published, setPublished] = useState(lane.publishedOnly)
  const navigate = useNavigate()
  const [copies, copying] = useDisclosure(false)
  const named = lane.name === lane.work.label ? '' : lane.name
  const [name, setName] = useState(named)
  const path = { params: { path: { id: lane.id } } }
  const said = (message: string) => () => {
    void renew('lanes')
    notifications.show({ color: 'var(--glaze)', message })
  }
  const save = useMutation({
    mutationFn: () => take(api.PUT('/api/lanes/{id}/scope', { ...path, body: { skuStartsWith: start || null, publishedOnly: published } })),
    onSuccess: said('Saved. The next preview uses this scope.'),
  })
  const turn = useMutation({
    mutationFn: (off: boolean) => take(api.PUT('/api/lanes/{id}/off', { ...path, body: { off } })),
    onSuccess: said(lane.off ? 'The lane is on.' : 'The lane is off: nothing is sent until it is on again.'),
  })
  const rename = useMutation({
    mutationFn: (to: string) => take(api.PUT('/api/lanes/{id}/name', { ...path, body: { name: to || null } })),
    onSuccess: said('The lane has its name.'),
  })
  const remove = useMutation({
    mutationFn: () => take(api.DELETE('/api/lanes/{id}', path)),
    onSuccess: async () => {
      await navigate({ to: '/lanes' })
      void renew()
      notifications.show({ color: 'var(--glaze)', message: `${lane.name} is removed. It can be brought back below the list.` })
    },
  })
  return (
    <section className="sheet pad stack" aria-label="Scope">
      <div className="field-grid">
        <span>Record kind</span>
        <span className="strong">{lane.work.label}</span>
        <label htmlFor="lane-name">Called</label>
        <TextInput
          id="lane-name"
          w={240}
          maxLength={60}
          placeholder={lane.work.label}
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
          onBlur={() => name.trim() !== named && rename.mutate(name.trim())}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
        <span>From</span>
        <span className="row">
          <SystemMark system={lane.source} /> {lane.source.name}
        </span>
        <span>To</span>
        <span className="row">
          <SystemMark system={lane.target} /> {lane.target.name}
        </span>
        <span>The lane is</span>
        <Switch
          label={lane.off ? 'off: previews show what it would do, nothing is sent' : 'on'}
          checked={!lane.off}
          onChange={() => turn.mutate(!lane.off)}
        />
        <label htmlFor="sku">Only SKUs that start with</label>
        <TextInput id="sku" placeholder="all SKUs" value={start} onChange={(e) => setStart(e.currentTarget.value)} w={240} />
        <span>Listings</span>
        <Switch label="only those that buyers can see" checked={published} onChange={(e) => setPublished(e.currentTarget.checked)} />
        <span>Single items</span>
        <span>
          <Link to="/synced" search={{ keptOff: lane.id }} className="act">
            What is synced
          </Link>{' '}
          <span className="dim">keeps single items and variants off this lane</span>
        </span>
      </div>
      {remove.isError && <Failed error={remove.error} />}
      {save.isError && <Failed error={save.error} />}
      {turn.isError && <Failed error={turn.error} />}
      {rename.isError && <Failed error={rename.error} />}
      <div className="row">
        <Button
          disabled={start === (lane.skuStartsWith ?? '') && published === lane.publishedOnly}
          loading={save.isPending}
          onClick={() => save.mutate()}
        >
          Save the scope
        </Button>
        <span className="grow" />
        <Button onClick={copying.open}>Make another like it</Button>
        <Button loading={remove.isPending} onClick={() => remove.mutate()}>
          Remove it
        </Button>
      </div>
      {copies && (
        <NewLane opened like={lane} wanted={{ kind: lane.kind, source: lane.source.id, target: lane.target.id }} close={copying.close} />
      )}
    </section>
  )
}
