import { Button } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link, useNavigate, useSearch } from '@tanstack/react-router'
import { api, type LaneSummary, take } from '../../shared/api'
import { count, every, share, when } from '../../shared/format'
import type { ListState } from '../../shared/listState'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import { NewLane } from './NewLane'

export function LanesPage() {
  const state = useSearch({ from: '/lanes' })
  const navigate = useNavigate({ from: '/lanes' })
  const ask = (tab: string | undefined) => void navigate({ search: { tab }, replace: true })
  const lanes = useQuery({ queryKey: ['lanes'], queryFn: () => take(api.GET('/api/lanes')) })
  return (
    <div className="page">
      <div className="page-head">
        <h1>Lanes</h1>
        <span className="dim">what flows from where to where</span>
        <span className="grow" />
        <Button variant="filled" onClick={() => ask('new')}>
          New lane
        </Button>
      </div>
      {state.tab === 'new' && <NewLane opened wanted={wanted(state)} close={() => ask(undefined)} />}
      <Loaded of={lanes}>
        {(all) => (
          <div className="sheet">
            {all.length === 0 && <Empty title="No lane yet">A lane needs two systems; then make one with “New lane”.</Empty>}
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
                      </Link>{' '}
                      {lane.draftAt && (
                        <Link to={draftPage(lane)} params={{ lane: lane.id }} className="tag ochre" title={`changed ${when(lane.draftAt)}`}>
                          not saved
                        </Link>
                      )}
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

/** What somebody came for, e.g. from an empty place on Today. */
const wanted = (state: ListState) => ({
  ...(state.kind ? { kind: state.kind } : {}),
  ...(state.store ? { target: state.store } : {}),
})

/** Where what is not saved of a lane is edited. */
const draftPage = (lane: LaneSummary) => (lane.work.steps.some((s) => s.key === 'map') ? '/lanes/$lane/map' : '/lanes/$lane/rule')
