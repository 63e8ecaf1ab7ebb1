import { Button } from '@mantine/core'
import { Link, Outlet } from '@tanstack/react-router'
import type { LaneSummary } from '../../shared/api'
import { count, every, when } from '../../shared/format'
import { SystemMark } from '../../shared/SystemMark'
import { Loaded } from '../../shared/states'
import { useStartRun } from '../runs/actions'
import { useLane } from './lane'

/** One page a lane, with its steps in order; each says whether it is ready. */
export function LanePage() {
  const lane = useLane()
  return <Loaded of={lane}>{(data) => <Frame lane={data} />}</Loaded>
}

function Frame({ lane }: { lane: LaneSummary }) {
  const start = useStartRun()
  const steps = [
    { to: '/lanes/$lane/scope', text: 'Scope', ready: true, inner: true },
    { to: '/lanes/$lane/pairs', text: 'Pairs', ready: lane.paired > 0, inner: true },
    { to: '/lanes/$lane/rule', text: lane.kind === 'price' ? 'Price rule' : 'Stock rule', ready: true, inner: true },
    { to: '/lanes/$lane/preview', text: 'Preview', ready: false, inner: false },
    { to: '/lanes/$lane/timetable', text: 'Timetable', ready: lane.everyMinutes !== null && !lane.paused, inner: true },
    { to: '/lanes/$lane/runs', text: 'Runs', ready: false, inner: false },
  ] as const
  // Corrections are sent as they are: there is no scope, rule or timetable to them.
  const shown = steps.filter((s) => lane.kind !== 'correction' || !s.inner)
  return (
    <div className="page page-fixed">
      <div className="page-head">
        <h1>{lane.name}</h1>
        <SystemMark system={lane.source} />
        <span>→</span>
        <SystemMark system={lane.target} />
        <span className="dim">
          {lane.source.name} to {lane.target.name}
        </span>
        <span className="grow" />
        {lane.heldAt && (
          <Link to="/pair-desk/$couple" params={{ couple: String(lane.coupleId) }} className="tag ochre">
            held while {lane.heldBy} pairs
          </Link>
        )}
        {lane.workingRunId ? (
          <Link to="/runs/$run" params={{ run: String(lane.workingRunId) }} className="tag ochre">
            running now
          </Link>
        ) : lane.everyMinutes ? (
          <span className={`tag ${lane.paused ? 'ochre' : 'glaze'}`}>
            {lane.paused ? 'paused' : `${every(lane.everyMinutes)}, next ${when(lane.nextDueAt)}`}
          </span>
        ) : (
          <span className="tag ochre">by hand</span>
        )}
        <Button onClick={() => start.mutate({ lane: lane.id, preview: true })} disabled={lane.workingRunId !== null}>
          Preview anew
        </Button>
        <Button
          onClick={() => start.mutate({ lane: lane.id, preview: false })}
          disabled={lane.workingRunId !== null || lane.heldAt !== null}
        >
          Run now
        </Button>
      </div>
      <nav className="steps" aria-label="Steps of the lane">
        {shown.map((s) => (
          <Link key={s.to} to={s.to} params={{ lane: lane.id }} search={{}} activeOptions={{ includeSearch: false }}>
            {s.text}
            {s.ready && (
              <span className="ready" role="img" aria-label="ready">
                {' '}
                ✓
              </span>
            )}
            {s.text === 'Pairs' && lane.unpairedThere > 0 && <span style={{ opacity: 0.85 }}> {count(lane.unpairedThere)} open</span>}
          </Link>
        ))}
      </nav>
      <Outlet />
    </div>
  )
}
