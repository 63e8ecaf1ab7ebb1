import { Button } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { Link, Outlet } from '@tanstack/react-router'
import { useStartRun } from '../../shared/acts'
import type { LaneSummary } from '../../shared/api'
import { count } from '../../shared/format'
import { useLane } from '../../shared/lane'
import { RunNow } from '../../shared/RunNow'
import { SystemMark } from '../../shared/SystemMark'
import { Loaded } from '../../shared/states'
import { timed } from '../../shared/timed'
import { DraftBar } from './DraftBar'
import { DraftOf, mapOf, useDraft } from './draft'

/** One page a lane, with its steps in order; each says whether it is ready and what is missing. */
export function LanePage() {
  const lane = useLane()
  return (
    <Loaded of={lane}>
      {(data) => (
        <div className="page page-fixed">
          <Head lane={data} />
          {data.work.pairs ? (
            <DraftOf lane={data}>
              <Edited lane={data} />
            </DraftOf>
          ) : (
            <>
              <Steps lane={data} missing={{}} />
              <Outlet />
            </>
          )}
        </div>
      )}
    </Loaded>
  )
}

/** What is missing in which step; a step without a word is ready. */
type Missing = Partial<Record<string, string>>

function Edited({ lane }: { lane: LaneSummary }) {
  const { document, faults, mapTrial } = useDraft()
  const map = mapOf(document)
  const held = (mapTrial?.failures ?? []).filter((f) => f.why.code === 'crosswalk').reduce((sum, f) => sum + f.count, 0)
  const failing = (mapTrial?.failing ?? 0) - held
  const wrong = (step: string) => {
    const refused = faults.filter((f) => f.severity === 'refuse' && f.step === step).length
    return refused > 0 ? `${count(refused)} to put right` : undefined
  }
  // Where a rule makes the record, a map adds to it and need not be there.
  const needed = (step: string, word: string) => (lane.work.steps.find((s) => s.key === step)?.isOptional ? undefined : word)
  const open = lane.unpairedThere > 0 ? `${count(lane.unpairedThere)} open` : undefined
  return (
    <>
      <Steps
        lane={lane}
        missing={{
          scope: lane.off ? 'off' : wrong('scope'),
          pairs: open,
          map:
            (map?.fields ?? []).length === 0
              ? needed('map', 'empty')
              : (wrong('map') ?? (failing > 0 ? `${count(failing)} fail` : undefined)),
          crosswalks:
            (map?.crosswalks ?? []).length === 0
              ? needed('crosswalks', 'none')
              : (wrong('crosswalks') ?? (held > 0 ? `${count(held)} wait` : undefined)),
          rule: wrong('rule'),
          guards: wrong('guards'),
          timetable: timed(lane)[1] === 'ochre' ? timed(lane)[0] : undefined,
        }}
      />
      <Outlet />
      <DraftBar />
    </>
  )
}

/** Where each step's page is; a lane has those that its work names. */
const pages = {
  scope: '/lanes/$lane/scope',
  pairs: '/lanes/$lane/pairs',
  map: '/lanes/$lane/map',
  crosswalks: '/lanes/$lane/crosswalks',
  rule: '/lanes/$lane/rule',
  guards: '/lanes/$lane/guards',
  preview: '/lanes/$lane/preview',
  timetable: '/lanes/$lane/timetable',
  runs: '/lanes/$lane/runs',
  versions: '/lanes/$lane/versions',
} as const

const neverMissing = ['preview', 'runs', 'versions']

function Steps({ lane, missing }: { lane: LaneSummary; missing: Missing }) {
  return (
    <nav className="steps" aria-label="Steps of the lane">
      {lane.work.steps.map(({ key, label }) => (
        <Link
          key={key}
          to={pages[key as keyof typeof pages]}
          params={{ lane: lane.id }}
          search={{}}
          activeOptions={{ includeSearch: false }}
        >
          {label}
          {!neverMissing.includes(key) &&
            (missing[key] ? (
              <span className="missing"> {missing[key]}</span>
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
  const [asks, asking] = useDisclosure(false)
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
      {lane.closedAt && (
        <Link to="/pair-desk/$couple" params={{ couple: String(lane.coupleId) }} className="tag ochre">
          closed while {lane.closedBy} pairs
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
      ) : (
        <span className={`tag ${timed(lane)[1]}`}>{timed(lane)[0]}</span>
      )}
      <Button onClick={() => start.mutate({ lane: lane.id, preview: true })} disabled={lane.workingRunId !== null}>
        Preview anew
      </Button>
      <Button onClick={asking.open} disabled={lane.workingRunId !== null || lane.closedAt !== null || lane.off}>
        Run now
      </Button>
      <RunNow lane={lane} opened={asks} close={asking.close} />
    </div>
  )
}
