import { Checkbox, Select } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import { api, type Schemas, take } from '../../shared/api'
import { count, day, plural, worth } from '../../shared/format'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { useOrderAct } from './actions'
import { Pick } from './Pick'

type Row = Schemas['DefaultItemRow']
type Memory = Schemas['ItemMemory']

/** What the default item stands in for, SKU by SKU: each is given its item, and what was booked wrongly is posted again. */
export function DefaultItems({ lane }: { lane: string | undefined }) {
  const uses = useQuery(queries.defaultItems(lane))
  if (!uses.data || uses.data.length === 0) return null
  return (
    <section className="sheet scrolls" aria-label="What the default item stands in for" style={{ maxHeight: '45%', flex: 'none' }}>
      <p className="dim small" style={{ margin: '10px 14px 4px' }}>
        The default item stands in for {plural(uses.data.length, 'SKU')}. Say what each of them is: the next run takes its documents out,
        and the one after posts them again.
      </p>
      {uses.data.map((row) => (
        <Use key={`${row.use.laneId}/${row.use.sku}`} row={row} />
      ))}
    </section>
  )
}

function Use({ row }: { row: Row }) {
  const { use, store, hub } = row
  const [memory, setMemory] = useState<Memory>('orders')
  const [anew, setAnew] = useState(true)
  const give = useOrderAct((item: string) =>
    take(
      api.POST('/api/lanes/{id}/orders/default-items', {
        params: { path: { id: use.laneId } },
        body: { sku: use.sku, item, for: memory, postsAnew: anew },
      }),
    ),
  )
  const left = use.posted - use.anew
  return (
    <div className="line" style={{ gridTemplateColumns: 'minmax(0, 1fr) 150px 108px auto', alignItems: 'center' }}>
      <span>
        <div>
          <SystemMark system={store} /> <span className="mono strong">{use.sku || 'no SKU'}</span> {use.title}
        </div>
        <span className="dim">
          {plural(use.orders, 'order')}, {count(use.quantity)} pcs, {worth(use.worth)}, since {day(use.since)}
          {use.anew > 0 && (
            <>
              {'; '}
              <Link to="/lanes/$lane/preview" params={{ lane: use.laneId }} search={{}} className="act">
                {count(use.anew)} to be posted anew
              </Link>
            </>
          )}
        </span>
      </span>
      <Select
        aria-label={`For which orders ${use.sku} is kept`}
        allowDeselect={false}
        data={[
          { value: 'once', label: use.orders === 1 ? 'for this order' : `for these ${count(use.orders)}` },
          { value: 'orders', label: 'for all its orders' },
          { value: 'pair', label: row.listed ? 'as a pair' : 'as a pair: not listed', disabled: !row.listed },
        ]}
        value={memory}
        onChange={(m) => setMemory((m ?? 'orders') as Memory)}
      />
      {left > 0 ? (
        <Checkbox label={`post ${count(left)} anew`} checked={anew} onChange={(e) => setAnew(e.currentTarget.checked)} />
      ) : (
        <span />
      )}
      <Pick
        hub={hub.id}
        kind="item"
        label={`Article of the hub for ${use.sku || 'lines without a SKU'}`}
        button="This is it"
        width={270}
        act={(item) => give.mutate(item)}
      />
    </div>
  )
}
