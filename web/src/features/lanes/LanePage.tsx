import { Button } from '@mantine/core'
import { Link, Outlet } from '@tanstack/react-router'
import type { LaneSummary } from '../../shared/api'
import { count, every, when } from '../../shared/format'
import { SystemMark } from '../../shared/SystemMark'
import { Loaded } from '../../shared/states'
import { useStartRun } from '../runs/actions'
import { DraftBar } from './DraftBar'
import { DraftOf, useDraft } from './draft'
import { useLane } from './lane'

/** One page a lane, with its steps in order; each says whether it is ready and what is missing. */
export function LanePage() {
  const lane = useLane()
  return (
    <Loaded of={lane}>
      {(data) => (
        <div className="page page-fixed">
          <Head lane={data} />
          {data.kind === 'correction' ? (
            <>
              <Steps lane={data} missing={{}} />
              <Outlet />
            </>
          ) : (
            <DraftOf lane={data}>
              <Edited lane={data} />
            </DraftOf>
          )}
        </div>
      )}
    </Loaded>
  )
}

/** What is missing in which step; a step without a word is ready. */
type Missing = Partial<Record<string, string>>

function Edited({ lane }: { lane: LaneSummary }) {
  const { document, faults, map } = useDraft()
  const held = (map.data?.failures ?? []).filter((f) => f.message.includes('the crosswalk “')).reduce((sum, f) => sum + f.count, 0)
  const failing = (map.data?.failing ?? 0) - held
  const refused = (path: RegExp) => faults.filter((f) => f.severity === 'refuse' && path.test(f.path)).length
  const wrong = (path: RegExp) => (refused(path) > 0 ? `${count(refused(path))} to put right` : undefined)
  const open = lane.unpairedThere > 0 ? `${count(lane.unpairedThere)} open` : undefined
  return (
    <>
      <Steps
        lane={lane}
        missing={{
          scope: lane.off ? 'off' : wrong(/^(filters|publish)/),
          pairs: open,
          map:
            (document.map?.fields ?? []).length === 0
              ? 'empty'
              : (wrong(/^fields/) ?? (failing > 0 ? `${count(failing)} fail` : undefined)),
          crosswalks:
            (document.map?.crosswalks ?? []).length === 0
              ? 'none'
              : (wrong(/^crosswalks/) ?? (held > 0 ? `${count(held)} wait` : undefined)),
          rule: wrong(/./),
          guards: wrong(/^(changedShare|priceMove|minMargin|toZero|emptiedTexts|removed|failingTimes)/),
          timetable: lane.everyMinutes === null ? 'by hand' : lane.paused ? 'paused' : undefined,
        }}
      />
      <Outlet />
      <DraftBar />
    </>
  )
}

function Steps({ lane, missing }: { lane: LaneSummary; missing: Missing }) {
  const steps = [
    { key: 'scope', to: '/lanes/$lane/scope', text: 'Scope', on: lane.kind !== 'correction' },
    { key: 'pairs', to: '/lanes/$lane/pairs', text: 'Pairs', on: lane.kind !== 'correction' },
    { key: 'map', to: '/lanes/$lane/map', text: 'Field map', on: lane.kind === 'item' },
    { key: 'crosswalks', to: '/lanes/$lane/crosswalks', text: 'Crosswalks', on: lane.kind === 'item' },
    {
      key: 'rule',
      to: '/lanes/$lane/rule',
      text: lane.kind === 'price' ? 'Price rule' : 'Stock rule',
      on: lane.kind === 'price' || lane.kind === 'stock',
    },
    { key: 'guards', to: '/lanes/$lane/guards', text: 'Guards', on: lane.kind !== 'correction' },
    { key: null, to: '/lanes/$lane/preview', text: 'Preview', on: true },
    { key: 'timetable', to: '/lanes/$lane/timetable', text: 'Timetable', on: lane.kind !== 'correction' },
    { key: null, to: '/lanes/$lane/runs', text: 'Runs', on: true },
    { key: null, to: '/lanes/$lane/versions', text: 'Versions', on: lane.kind !== 'correction' },
  ] as const
  return (
    <nav className="steps" aria-label="Steps of the lane">
      {steps
        .filter((s) => s.on)
        .map((s) => (
          <Link key={s.to} to={s.to} params={{ lane: lane.id }} search={{}} activeOptions={{ includeSearch: false }}>
            {s.text}
            {s.key !== null &&
              (missing[s.key] ? (
                <span className="missing"> {missing[s.key]}</span>
              ) : (
                <span className="ready" role="img" aria-label="ready">
                  {' '}
                  ✓
                </span>
              ))}
          </Link>
        ))}
    </nav>
  )
}

function Head({ lane }: { lane: LaneSummary }) {
  const start = useStartRun()
  return (
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
      {lane.readyIsStopped && lane.readyRunId && (
        <Link to="/lanes/$lane/preview" params={{ lane: lane.id }} className="tag harm">
          stopped by its guards
        </Link>
      )}
      {lane.off ? (
        <Link to="/lanes/$lane/scope" params={{ lane: lane.id }} className="tag plain">
          off: nothing is sent
        </Link>
      ) : lane.workingRunId ? (
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
        disabled={lane.workingRunId !== null || lane.heldAt !== null || lane.off}
      >
        Run now
      </Button>
    </div>
  )
}
