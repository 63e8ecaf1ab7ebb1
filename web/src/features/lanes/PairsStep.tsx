import { useQuery } from '@tanstack/react-query'
import { useNavigate, useSearch } from '@tanstack/react-router'
import type { ListState } from '../../app/router'
import { api, type LaneSummary, type Schemas, take } from '../../shared/api'
import { Chips } from '../../shared/Chips'
import { LongTable } from '../../shared/LongTable'
import { Seam } from '../../shared/Seam'
import { Search } from '../../shared/Search'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import { Trace } from '../../shared/Trace'
import { useLane } from './lane'

type PairLine = Schemas['PairLine']

const verdicts: Record<PairLine['verdict'], [string, string]> = {
  exact: ['exact', 'glaze'],
  form: ['same form', 'glaze'],
  skuMissing: ['no SKU', 'clay'],
  usedTwice: ['twice', 'clay'],
  noPartner: ['none', 'ochre'],
}

export function PairsStep() {
  const lane = useLane()
  return <Loaded of={lane}>{(data) => <Pairs lane={data} />}</Loaded>
}

function Pairs({ lane }: { lane: LaneSummary }) {
  const state = useSearch({ from: '/lanes/$lane/pairs' })
  const navigate = useNavigate({ from: '/lanes/$lane/pairs' })
  const show = state.show ?? 'paired'
  const fetch = (offset: number, limit: number) =>
    take(
      api.GET('/api/lanes/{id}/pairs', {
        params: { path: { id: lane.id }, query: { show, search: state.search, offset, limit } },
      }),
    )
  const counts = useQuery({ queryKey: ['pairs', lane.id, 'counts'], queryFn: () => fetch(0, 1) })
  const c = counts.data
  const unpaired = (side: Schemas['PairCounts']) => side.skuMissing + side.usedTwice + side.noPartner
  return (
    <>
      <div className="row wrap">
        {c && (
          <Chips
            label="Pairs"
            slim
            chosen={show}
            choose={(k) => void navigate({ search: { show: k } })}
            chips={[
              { key: 'paired', text: 'Paired', count: c.hub.exact + c.hub.form, always: true },
              { key: 'form', text: 'Written another way', count: c.hub.form },
              { key: 'unpairedThere', text: `Unpaired in ${lane.target.mark}`, count: unpaired(c.other), always: true },
              { key: 'unpairedHere', text: `Unpaired in ${lane.source.mark}`, count: unpaired(c.hub), always: true },
            ]}
          />
        )}
        <span className="grow" />
        <Search
          label="SKU or name"
          text={state.search ?? ''}
          search={(search) => void navigate({ search: (s: ListState) => ({ ...s, search, row: undefined }), replace: true })}
        />
      </div>
      <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 430px' }}>
        <div className="sheet" style={{ minHeight: 0, overflow: 'hidden' }}>
          <LongTable<PairLine>
            label="Pairs"
            queryKey={['pairs', lane.id, show, state.search]}
            fetch={async (offset, limit) => (await fetch(offset, limit)).lines}
            rowKey={(p) => String(p.id)}
            chosen={state.row}
            open={(p) => void navigate({ search: (s: ListState) => ({ ...s, row: String(p.id) }), replace: true })}
            columns={[
              {
                key: 'sku',
                head: 'SKU',
                width: '150px',
                cell: (p) => <span className="mono">{p.sku || <span className="dim">none</span>}</span>,
              },
              { key: 'title', head: 'Item', width: 'minmax(0, 1fr)', cell: (p) => p.title },
              {
                key: 'verdict',
                head: 'Verdict',
                width: '100px',
                cell: (p) => {
                  const [word, tone] = verdicts[p.verdict]
                  return <span className={`tag ${tone}`}>{word}</span>
                },
              },
            ]}
            empty={<Empty title={state.search ? 'No pair matches' : 'None'}>Read both systems to pair anew.</Empty>}
          />
        </div>
        <PairSheet lane={lane} row={state.row} />
      </div>
    </>
  )
}

function PairSheet({ lane, row }: { lane: LaneSummary; row: string | undefined }) {
  const seam = useQuery({
    enabled: row !== undefined,
    queryKey: ['seam', lane.id, row],
    queryFn: () => take(api.GET('/api/lanes/{id}/pairs/{pairId}', { params: { path: { id: lane.id, pairId: Number(row) } } })),
  })
  if (row === undefined)
    return (
      <div className="sheet side">
        <Empty title="Choose a line">to see both records side by side, and why they are a pair or are not.</Empty>
      </div>
    )
  return (
    <div className="sheet side">
      <Loaded of={seam}>
        {(view) => (
          <>
            <Seam
              left={
                <>
                  <SystemMark system={lane.source} /> <span className="mono">{view.pair.hubKey ?? 'no record'}</span>
                </>
              }
              right={
                <>
                  <SystemMark system={lane.target} /> <span className="mono">{view.pair.otherKey ?? 'no record'}</span>
                </>
              }
              rows={view.rows}
            />
            <div className="line" style={{ display: 'block' }}>
              <div className="strong">Why {verdicts[view.pair.verdict][0]}</div>
              <div className="dim">{view.pair.evidence}.</div>
            </div>
            {view.cause && <div className="line minus">{view.cause}</div>}
            {view.hold && <div className="line minus">Held: {view.hold}.</div>}
            {view.trace.length > 0 && (
              <>
                <h2 style={{ margin: 0, padding: '10px 14px', fontSize: 14, borderTop: '1px solid var(--rule)' }}>By the rule</h2>
                <Trace steps={view.trace} />
              </>
            )}
          </>
        )}
      </Loaded>
    </div>
  )
}
