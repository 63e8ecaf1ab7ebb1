import { Button, Switch, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type LaneSummary, take } from '../../shared/api'
import { SystemMark } from '../../shared/SystemMark'
import { Failed, Loaded } from '../../shared/states'
import { useLane } from './lane'

export function ScopeStep() {
  const lane = useLane()
  return <Loaded of={lane}>{(data) => <Form key={data.id} lane={data} />}</Loaded>
}

function Form({ lane }: { lane: LaneSummary }) {
  const queries = useQueryClient()
  const [start, setStart] = useState(lane.skuStartsWith ?? '')
  const [published, setPublished] = useState(lane.publishedOnly)
  const save = useMutation({
    mutationFn: () =>
      take(
        api.PUT('/api/lanes/{id}/scope', {
          params: { path: { id: lane.id } },
          body: { skuStartsWith: start || null, publishedOnly: published },
        }),
      ),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['lanes'] })
      notifications.show({ color: 'var(--glaze)', message: 'Saved. The next preview uses this scope.' })
    },
  })
  return (
    <section className="sheet pad stack" style={{ maxWidth: 680 }}>
      <div className="field-grid">
        <span>Record kind</span>
        <span className="strong">{lane.kind === 'price' ? 'prices of items' : 'stock levels of items'}</span>
        <span>From</span>
        <span className="row">
          <SystemMark system={lane.source} /> {lane.source.name}
        </span>
        <span>To</span>
        <span className="row">
          <SystemMark system={lane.target} /> {lane.target.name}
        </span>
        <label htmlFor="sku">Only SKUs that start with</label>
        <TextInput id="sku" placeholder="all SKUs" value={start} onChange={(e) => setStart(e.currentTarget.value)} w={240} />
        <span>Listings</span>
        <Switch label="only those that buyers can see" checked={published} onChange={(e) => setPublished(e.currentTarget.checked)} />
      </div>
      {save.isError && <Failed error={save.error} />}
      <div>
        <Button variant="filled" loading={save.isPending} onClick={() => save.mutate()}>
          Save the scope
        </Button>
      </div>
    </section>
  )
}
