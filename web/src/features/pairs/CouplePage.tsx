import { Button } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from '@tanstack/react-router'
import { count, when } from '../../shared/format'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'
import { type Couple, useDesk } from './actions'
import { Batches } from './Batches'
import { Desk } from './Desk'
import { PairTables } from './PairTables'
import { Readiness } from './Readiness'
import { StockTaking } from './StockTaking'

const tabs = [
  ['desk', 'Pair'],
  ['review', 'Review and commit'],
  ['readiness', 'Readiness'],
  ['tables', 'Pair tables'],
  ['start', 'First stock-taking'],
] as const

export function CouplePage() {
  const { couple: id } = useParams({ from: '/pair-desk/$couple' })
  const couple = useQuery(queries.couple(Number(id)))
  return <Loaded of={couple}>{(data) => <Frame couple={data} />}</Loaded>
}

function Frame({ couple }: { couple: Couple }) {
  const [{ tab: asked }] = useView('/pair-desk/$couple')
  const desk = useDesk(couple.id)
  const tab = asked ?? 'desk'
  const c = couple.counts
  const left = c.certain + c.likely + c.ambiguous + c.none
  return (
    <div className="page page-fixed" style={{ gap: 10 }}>
      <div className="page-head">
        <h1>Pair desk</h1>
        <SystemMark system={couple.hub} /> <span>{couple.hubLabel}</span>
        <span className="dim">with</span>
        <SystemMark system={couple.other} /> <span>{couple.otherLabel}</span>
        <span className="grow" />
        <span>
          unpaired <span className="num strong">{count(c.unpaired)}</span>
          {left !== c.unpaired && (
            <>
              {' '}
              → <span className="num strong">{count(left)}</span>
            </>
          )}
        </span>
        {couple.closed ? (
          <>
            <span className="tag ochre" title={`since ${when(couple.closedAt)}, by ${couple.closedBy}`}>
              its lanes are closed while you pair
            </span>
            <Button onClick={() => desk.close.mutate(false)}>Open the lanes</Button>
          </>
        ) : (
          couple.lanes > 0 && <Button onClick={() => desk.close.mutate(true)}>Close the lanes</Button>
        )}
        <Button loading={desk.pair.isPending} onClick={() => desk.pair.mutate()}>
          Read and pair anew
        </Button>
      </div>
      <nav className="steps" aria-label="Parts of the pair desk">
        {tabs.map(([key, text]) => (
          <Link
            key={key}
            to="/pair-desk/$couple"
            params={{ couple: String(couple.id) }}
            search={{ tab: key }}
            activeOptions={{ includeSearch: true, exact: false }}
            className={asked === undefined && key === 'desk' ? 'on' : undefined}
          >
            {text}
            {key === 'review' && c.waiting > 0 && <span className="num"> {count(c.waiting)}</span>}
          </Link>
        ))}
      </nav>
      {tab === 'desk' && <Desk couple={couple} />}
      {tab === 'review' && <Batches couple={couple} />}
      {tab === 'readiness' && <Readiness couple={couple} />}
      {tab === 'tables' && <PairTables couple={couple} />}
      {tab === 'start' && <StockTaking couple={couple} />}
    </div>
  )
}
