import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import type { Schemas } from '../../shared/api'
import { Explained } from '../../shared/Explained'
import { count, plural } from '../../shared/format'
import { type Column, LongTable } from '../../shared/LongTable'
import type { ViewOf } from '../../shared/listState'
import { queries } from '../../shared/queries'
import { Search } from '../../shared/Search'
import { SheetLinks } from '../../shared/SheetLinks'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'

type Row = Schemas['ExposedItem']

/** Items of which all stores together promise more than there is. */
export function ExposurePage() {
  const [state, set] = useView('/exposure')
  const first = useQuery(queries.exposure({ search: state.search })(0, 1))
  return (
    <div className="page page-fixed">
      <div className="page-head">
        <h1>Exposure</h1>
        <span className="dim">
          items of which all stores together promise more than is <Explained word="available" />
        </span>
        <span className="grow" />
        <Files state={state} />
        <Search label="SKU or name" text={state.search ?? ''} search={(search) => set({ search })} />
      </div>
      <Loaded of={first}>
        {(head) => {
          const columns: Column<Row>[] = [
            {
              key: 'sku',
              head: 'SKU',
              sort: 'sku',
              width: '130px',
              cell: (r) => (
                <Link to="/items/$item" params={{ item: r.key }} className="mono">
                  {r.sku ?? r.key}
                </Link>
              ),
            },
            { key: 'title', head: 'Item', width: 'minmax(0, 1fr)', cell: (r) => r.title },
            ...head.stores.map((s) => ({
              key: s.id,
              head: `${s.mark}, pcs`,
              width: '76px',
              numeric: true,
              cell: (r: Row) => {
                const offer = r.offers.find((o) => o.systemId === s.id)
                return offer ? count(Number(offer.promised)) : <span className="dim">–</span>
              },
            })),
            {
              key: 'promised',
              head: 'promised, pcs',
              width: '104px',
              numeric: true,
              sort: 'promised',
              cell: (r) => count(Number(r.promised)),
            },
            {
              key: 'available',
              head: 'available, pcs',
              width: '104px',
              numeric: true,
              sort: 'available',
              cell: (r) => count(Number(r.available)),
            },
            {
              key: 'exposure',
              head: 'exposed by, pcs',
              width: '116px',
              numeric: true,
              sort: 'exposure',
              cell: (r) => <span className="minus strong">{count(Number(r.exposure))}</span>,
            },
          ]
          return (
            <>
              {head.total > 0 && (
                <div className="note ochre">
                  <span className="grow">
                    <span className="strong">{plural(head.total, 'item')}</span> are promised by {plural(Number(head.pieces), 'piece')} more
                    than there are, if every store sold out before the next run. Shares, caps and pieces held back in the stock rules keep
                    that down.
                  </span>
                  <span className="row">
                    {head.stores.map((s) => (
                      <Link key={s.id} to="/lanes/$lane/rule" params={{ lane: `stock-${s.id}` }} className="row" style={{ gap: 4 }}>
                        <SystemMark system={s} />
                      </Link>
                    ))}
                  </span>
                </div>
              )}
              {head.notCounted.length > 0 && (
                <div className="dim small">
                  Not counted, because nothing is paired there yet:{' '}
                  {head.notCounted.map((s, i) => (
                    <span key={s.id}>
                      {i > 0 && ', '}
                      <Link to="/pair-desk">{s.name}</Link>
                    </span>
                  ))}
                  . What they offer of an item may come on top.
                </div>
              )}
              <div className="sheet" style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
                <LongTable<Row>
                  label="Exposed items"
                  pages={queries.exposure({ search: state.search, sort: state.sort })}
                  sort={state.sort}
                  setSort={(sort) => set({ sort })}
                  columns={columns}
                  rowKey={(r) => r.key}
                  chosen={state.row}
                  open={(r) => set({ row: r.key })}
                  empty={
                    <Empty title="Nothing is exposed">
                      {state.search ? 'Nothing matches this search.' : 'No item is promised more often than it is available.'}
                    </Empty>
                  }
                />
              </div>
            </>
          )
        }}
      </Loaded>
    </div>
  )
}

/** What is shown, as a file. */
function Files({ state }: { state: ViewOf<'/exposure'> }) {
  const asked = Object.entries({ search: state.search, sort: state.sort }).filter(([, v]) => v !== undefined)
  const file = (form: string) => `/api/exposure.${form}?${new URLSearchParams(asked.map(([k, v]) => [k, String(v)]))}`
  return <SheetLinks file={file} />
}
