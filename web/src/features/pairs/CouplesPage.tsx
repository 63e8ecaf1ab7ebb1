import { Button } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { count, when } from '../../shared/format'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import { type Couple, useDesk } from './actions'

const ways: Record<NonNullable<Couple['way']>, string> = { byHand: 'by hand', takeOver: 'taken over', publish: 'published to' }

/** Where the pairing of each system with the hub stands. */
export function CouplesPage() {
  const couples = useQuery(queries.couples())
  return (
    <div className="page">
      <div className="page-head">
        <h1>Pair desk</h1>
        <span className="dim">which record here is which record there</span>
      </div>
      <Loaded of={couples}>
        {(all) => (
          <div className="sheet">
            {all.length === 0 && <Empty title="Nothing to pair yet">Pairing needs the hub and another system, both read.</Empty>}
            {all.length > 0 && (
              <table className="plain-table">
                <thead>
                  <tr>
                    <th>Hub with</th>
                    <th className="num">Unpaired</th>
                    <th className="num">Likely</th>
                    <th className="num">Ambiguous</th>
                    <th className="num">None</th>
                    <th className="num">Certain</th>
                    <th className="num">Set aside</th>
                    <th className="num">Paired</th>
                    <th>Stock-taking</th>
                    <th>
                      <span className="dim">Lanes</span>
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {all.map((c) => (
                    <Line key={c.id} couple={c} />
                  ))}
                </tbody>
              </table>
            )}
          </div>
        )}
      </Loaded>
    </div>
  )
}

function Line({ couple: c }: { couple: Couple }) {
  const desk = useDesk(c.id)
  const params = { couple: String(c.id) }
  const n = (show: string, number: number, tone?: string) => (
    <td className="num">
      {number === 0 ? (
        <span className="dim">0</span>
      ) : (
        <Link to="/pair-desk/$couple" params={params} search={{ show }} className={tone}>
          {count(number)}
        </Link>
      )}
    </td>
  )
  return (
    <tr>
      <td>
        <span className="row">
          <SystemMark system={c.hub} />
          <SystemMark system={c.other} />
          <Link to="/pair-desk/$couple" params={params} className="strong">
            {c.other.name}
          </Link>
          <span className="dim">{c.otherLabel}</span>
        </span>
      </td>
      <td className="num strong">
        {c.pairedAt ? (
          <Link to="/pair-desk/$couple" params={params}>
            {count(c.counts.unpaired)}
          </Link>
        ) : (
          <span className="dim">not read</span>
        )}
      </td>
      {n('likely', c.counts.likely)}
      {n('ambiguous', c.counts.ambiguous)}
      {n('none', c.counts.none)}
      {n('certain', c.counts.certain)}
      {n('setAside', c.counts.setAside)}
      {n('paired', c.counts.paired)}
      <td>
        {c.taking ? (
          <span className="tag ochre">at work</span>
        ) : c.way ? (
          <span className="dim">{ways[c.way]}</span>
        ) : (
          <Link to="/pair-desk/$couple" params={params} search={{ tab: 'start' }} className="act">
            Choose a way
          </Link>
        )}
      </td>
      <td>
        {c.closed ? (
          <span className="row">
            <span className="tag ochre">closed since {when(c.closedAt)}</span>
            <Button size="compact-sm" onClick={() => desk.close.mutate(false)}>
              Open
            </Button>
          </span>
        ) : (
          <span className="dim">{c.lanes === 0 ? 'none' : 'open'}</span>
        )}
      </td>
    </tr>
  )
}
