import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import type { LaneSummary, Schemas } from '../../shared/api'
import { count } from '../../shared/format'
import { LongTable } from '../../shared/LongTable'
import { useLane } from '../../shared/lane'
import { isNoStep } from '../../shared/listState'
import { queries } from '../../shared/queries'
import { Seam } from '../../shared/Seam'
import { Search } from '../../shared/Search'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import { Trace } from '../../shared/Trace'
import { useView } from '../../shared/useView'

type DeskRow = Schemas['DeskRow']

/** The pairs that a lane works with, each with what the rule makes of it. Pairing itself is done at the pair desk. */
export function PairsStep() {
  const lane = useLane()
  return (
    <Loaded of={lane}>
      {(data) =>
        data.coupleId === null ? (
          <Empty title="Nothing is paired yet">Preview anew: both sides are read and paired first.</Empty>
        ) : (
          <Pairs lane={data} couple={data.coupleId} />
        )
      }
    </Loaded>
  )
}

function Pairs({ lane, couple }: { lane: LaneSummary; couple: number }) {
  const [state, set] = useView('/lanes/$lane/pairs')
  return (
    <>
      <div className="row wrap">
        <span>
          {count(lane.unpairedHere)} {lane.source.mark} and {count(lane.unpairedThere)} {lane.target.mark} records are unpaired.
        </span>
        <Link to="/pair-desk/$couple" params={{ couple: String(couple) }} className="act">
          Go to the pair desk
        </Link>
        <span className="grow" />
        <Search
          label="SKU or name"
          text={state.search ?? ''}
          search={(search) => set({ search, row: undefined }, isNoStep(state, { search }))}
        />
      </div>
      <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 430px' }}>
        <div className="sheet" style={{ minHeight: 0, overflow: 'hidden' }}>
          <LongTable<DeskRow>
            label="Pairs"
            pages={queries.deskRows(couple, { show: 'paired', search: state.search })}
            rowKey={(p) => p.otherKey ?? p.id}
            chosen={state.row}
            open={(p) => set({ row: p.otherKey ?? undefined })}
            columns={[
              {
                key: 'sku',
                head: 'SKU',
                width: '170px',
                cell: (p) => <span className="mono">{p.reference || <span className="dim">none</span>}</span>,
              },
              { key: 'title', head: 'Listing', width: 'minmax(0, 1fr)', cell: (p) => p.caption },
              { key: 'hub', head: 'Item', width: '90px', cell: (p) => <span className="mono">{p.hubKey}</span> },
              {
                key: 'kind',
                head: 'Kind',
                width: '70px',
                cell: (p) => (p.standing === 'kit' ? <span className="tag ochre">kit</span> : <span className="tag glaze">pair</span>),
              },
            ]}
            empty={<Empty title={state.search ? 'No pair matches' : 'Nothing is paired yet'}>Pair at the pair desk.</Empty>}
          />
        </div>
        <PairSheet lane={lane} targetKey={state.row} />
      </div>
    </>
  )
}

function PairSheet({ lane, targetKey }: { lane: LaneSummary; targetKey: string | undefined }) {
  const seam = useQuery({
    enabled: targetKey !== undefined,
    ...queries.seam(lane.id, targetKey as string),
  })
  if (targetKey === undefined)
    return (
      <div className="sheet side">
        <Empty title="Choose a line">to see both records side by side, and what the rule makes of them.</Empty>
      </div>
    )
  return (
    <div className="sheet side">
      <Loaded of={seam}>
        {(view) => (
          <>
            <Seam
              left={<SystemMark system={lane.source} />}
              right={
                <>
                  <SystemMark system={lane.target} /> <span className="mono">{targetKey}</span>
                </>
              }
              rows={view.rows}
            />
            {view.why && <div className="line minus">{view.why.words}</div>}
            {view.hold && <div className="line minus">Held: {view.hold.words}.</div>}
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
