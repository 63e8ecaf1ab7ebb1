import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { api, take } from '../../shared/api'
import { count, every, share, when } from '../../shared/format'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'

export function LanesPage() {
  const lanes = useQuery({ queryKey: ['lanes'], queryFn: () => take(api.GET('/api/lanes')) })
  return (
    <div className="page">
      <div className="page-head">
        <h1>Lanes</h1>
        <span className="dim">what flows from where to where</span>
      </div>
      <Loaded of={lanes}>
        {(all) => (
          <div className="sheet">
            {all.length === 0 && <Empty title="No lane yet">A lane needs two systems.</Empty>}
            <table className="plain-table">
              <thead>
                <tr>
                  <th>Lane</th>
                  <th>From and to</th>
                  <th className="num">In step</th>
                  <th className="num">Waiting</th>
                  <th className="num">Unpaired there</th>
                  <th>Timetable</th>
                  <th>Compared</th>
                </tr>
              </thead>
              <tbody>
                {all.map((lane) => (
                  <tr key={lane.id}>
                    <td>
                      <Link to="/lanes/$lane/preview" params={{ lane: lane.id }} className="strong">
                        {lane.name}
                      </Link>
                    </td>
                    <td>
                      <span className="row">
                        <SystemMark system={lane.source} /> → <SystemMark system={lane.target} />{' '}
                        <span className="dim">
                          {lane.source.name} to {lane.target.name}
                        </span>
                      </span>
                    </td>
                    <td className="num">{share(lane.inStep, lane.paired)}</td>
                    <td className="num">
                      <Link to="/lanes/$lane/preview" params={{ lane: lane.id }}>
                        {count(lane.waiting)}
                      </Link>
                    </td>
                    <td className="num">
                      <Link to="/lanes/$lane/pairs" params={{ lane: lane.id }} search={{ show: 'unpairedThere' }}>
                        {count(lane.unpairedThere)}
                      </Link>
                    </td>
                    <td>
                      {lane.everyMinutes
                        ? lane.paused
                          ? 'paused'
                          : `${every(lane.everyMinutes)}, next ${when(lane.nextDueAt)}`
                        : 'by hand'}
                    </td>
                    <td>{when(lane.comparedAt)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </Loaded>
    </div>
  )
}
