import { Select, TextInput } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import type { Schemas } from '../../shared/api'
import { Chips } from '../../shared/Chips'
import { count, dayAndClock, money, sentence, worth } from '../../shared/format'
import { LongTable } from '../../shared/LongTable'
import type { ViewOf } from '../../shared/listState'
import { Period } from '../../shared/Period'
import { queries } from '../../shared/queries'
import { Search } from '../../shared/Search'
import { SheetLinks } from '../../shared/SheetLinks'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Failed } from '../../shared/states'
import { useView } from '../../shared/useView'
import { AnonymiseAfter } from './AnonymiseAfter'
import { DefaultItems } from './DefaultItems'
import { stages, views, viewWords } from './stages'

type Row = Schemas['OrderRow']

const filterOf = (s: ViewOf<'/orders'>) => ({
  Lane: s.lane,
  Stage: s.show,
  Cause: s.cause,
  Search: s.search,
  From: s.from,
  Until: s.until,
  Least: s.least ? Number(s.least) : undefined,
  Most: s.most ? Number(s.most) : undefined,
  Currency: s.currency,
})

/** All orders, wherever they stand. */
export function OrdersPage() {
  const [state, set] = useView('/orders')
  const navigate = useNavigate()
  const filter = filterOf(state)
  const head = useQuery({
    ...queries.orders(filter)(0, 1),
    placeholderData: (before) => before,
  })
  const currencies = [...new Set(head.data?.stages.flatMap((s) => s.worth.map((w) => w.currency)))]
  const all = head.data?.stages.filter((s) => s.stage in stages).reduce((sum, s) => sum + s.count, 0) ?? 0
  const sumOf = (stage: string) => head.data?.stages.find((s) => s.stage === stage)
  const shown = state.show ? sumOf(state.show) : undefined
  return (
    <div className="page page-fixed">
      <div className="page-head">
        <h1>Orders</h1>
        <span className="dim">from every store, newest first</span>
        <span className="grow" />
        <Files filter={filter} />
        <Search label="number, buyer, email, SKU" text={state.search ?? ''} search={(search) => set({ search })} />
      </div>
      {head.isError && <Failed error={head.error} />}
      <div className="row wrap">
        <Chips
          label="Where they stand"
          chosen={state.show ?? 'all'}
          choose={(show) => set({ show: show === 'all' ? undefined : show, cause: undefined })}
          chips={[
            { key: 'all', text: 'All', count: all, always: true },
            ...views.map((v) => ({ key: v as string, text: sentence(viewWords[v] ?? v), count: sumOf(v)?.count ?? 0 })),
          ]}
        />
        {shown && shown.worth.length > 0 && <span className="dim">{worth(shown.worth)} in all</span>}
        <span className="grow" />
        <AnonymiseAfter />
      </div>
      <Filters state={state} set={set} causes={head.data?.causes ?? []} currencies={currencies} />
      {state.show === 'defaultItem' && <DefaultItems lane={state.lane} />}
      <div className="sheet" style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
        <LongTable<Row>
          label="Orders"
          pages={queries.orders(filter)}
          rowKey={(r) => `${r.lane}/${r.key}`}
          open={(r) => void navigate({ to: '/orders/$lane/$order', params: { lane: r.lane, order: r.key }, search: {} })}
          columns={columns}
          empty={
            Object.values(filter).some(Boolean) ? (
              <Empty title="No order matches">Take a filter away to see more.</Empty>
            ) : (
              <Empty title="No order has been read yet">A lane for orders from a store to the hub reads them: Lanes, New lane.</Empty>
            )
          }
        />
      </div>
    </div>
  )
}

const columns = [
  { key: 'number', head: 'Order', width: '78px', cell: (r: Row) => <span className="mono">{r.number ?? r.key}</span> },
  { key: 'store', head: 'Store', width: '50px', cell: (r: Row) => <SystemMark system={r.store} /> },
  { key: 'placed', head: 'Placed', width: '108px', cell: (r: Row) => dayAndClock(r.placedAt) },
  { key: 'buyer', head: 'Buyer', width: 'minmax(0, 1fr)', cell: (r: Row) => r.buyer ?? <span className="dim">nobody named</span> },
  { key: 'total', head: 'Total', width: '124px', numeric: true, cell: (r: Row) => money({ sum: r.total, currency: r.currency ?? '' }) },
  {
    key: 'stage',
    head: 'Stands',
    width: '108px',
    cell: (r: Row) => <span className={`tag ${stages[r.stage][1]}`}>{stages[r.stage][0]}</span>,
  },
  {
    key: 'why',
    head: 'Why, or where',
    width: 'minmax(0, 2.2fr)',
    cell: (r: Row) =>
      r.words ??
      (r.hubKey ? (
        <span className="dim">
          document {r.hubKey}
          {Number(r.refunded) > 0 && `, ${money({ sum: r.refunded, currency: r.currency ?? '' })} given back`}
        </span>
      ) : (
        ''
      )),
  },
]

function Filters({
  state,
  set,
  causes,
  currencies,
}: {
  state: ViewOf<'/orders'>
  set: (c: ViewOf<'/orders'>) => void
  causes: Schemas['CauseSum'][]
  currencies: string[]
}) {
  const lanes = useQuery(queries.lanes())
  const stores = (lanes.data ?? []).filter((l) => l.work.kind === 'order')
  const none =
    !state.lane &&
    !state.cause &&
    !state.from &&
    !state.until &&
    !state.least &&
    !state.most &&
    !state.currency &&
    !state.search &&
    !state.show
  // An amount means nothing without its currency; the one in which most was sold is meant until another is chosen.
  const currency = state.currency ?? currencies[0] ?? ''
  const amount = (label: string, key: 'least' | 'most') => (
    <TextInput
      aria-label={label}
      placeholder={label}
      rightSection={<span className="dim small">{currency}</span>}
      w={98}
      value={state[key] ?? ''}
      onChange={(e) => {
        const typed = e.currentTarget.value.replace(/[^\d.]/g, '') || undefined
        set({ [key]: typed, currency: typed ? currency || undefined : state.currency })
      }}
    />
  )
  return (
    <div className="row wrap tools">
      <Select
        aria-label="Store"
        placeholder="any store"
        clearable
        w={130}
        data={stores.map((l) => ({ value: l.id, label: l.source.name }))}
        value={state.lane ?? null}
        onChange={(lane) => set({ lane: lane ?? undefined })}
      />
      <Select
        aria-label="Cause"
        placeholder="any cause"
        clearable
        w={170}
        data={causes.map((c) => ({ value: c.cause, label: `${c.words}: ${count(c.count)}` }))}
        value={state.cause ?? null}
        onChange={(cause) => set({ cause: cause ?? undefined })}
      />
      <Period value={state} set={set} />
      {amount('at least', 'least')}
      {amount('at most', 'most')}
      {(currencies.length > 1 || state.currency) && (
        <Select
          aria-label="Currency"
          placeholder="any currency"
          clearable
          w={120}
          data={[...new Set([...currencies, ...(state.currency ? [state.currency] : [])])]}
          value={state.currency ?? null}
          onChange={(chosen) => set({ currency: chosen ?? undefined, ...(chosen ? {} : { least: undefined, most: undefined }) })}
        />
      )}
      {!none && (
        <button
          type="button"
          className="act"
          onClick={() =>
            set({
              lane: undefined,
              cause: undefined,
              from: undefined,
              until: undefined,
              least: undefined,
              most: undefined,
              currency: undefined,
              search: undefined,
              show: undefined,
            })
          }
        >
          Show all
        </button>
      )}
    </div>
  )
}

/** What is shown, as a file. */
function Files({ filter }: { filter: ReturnType<typeof filterOf> }) {
  const asked = Object.entries(filter).flatMap(([name, value]) => (value === undefined ? [] : [[name, String(value)]]))
  const file = (form: string) => `/api/orders.${form}?${new URLSearchParams(asked)}`
  return <SheetLinks file={file} />
}
