import { Button } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import type { LaneSummary } from '../../shared/api'
import { count, share, when } from '../../shared/format'
import type { ViewOf } from '../../shared/listState'
import { OpenTag } from '../../shared/OpenTag'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { openOf } from '../../shared/standing'
import { Empty, Loaded } from '../../shared/states'
import { timed } from '../../shared/timed'
import { useView } from '../../shared/useView'
import { NewLane } from './NewLane'
import { RemovedLanes } from './RemovedLanes'

export function LanesPage() {
  const [state, set] = useView('/lanes')
  const ask = (tab: string | undefined) => set({ tab, kind: undefined, store: undefined }, true)
  const lanes = useQuery(queries.lanes())
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
        {(all) =>
          all.length === 0 ? (
            <div className="sheet">
              <Empty title="No lane yet">A lane needs two systems; then make one with “New lane”.</Empty>
            </div>
          ) : (
            grouped(all).map(([system, lanes]) => <Group key={system.id} system={system} lanes={lanes} />)
          )
        }
      </Loaded>
      <RemovedLanes />
    </div>
  )
}

/** Lanes by the system that they keep in step with the rest: the one that most of them have at one end. */
function grouped(lanes: LaneSummary[]): [LaneSummary['target'], LaneSummary[]][] {
  const uses = (id: string) => lanes.filter((l) => l.source.id === id || l.target.id === id).length
  const own = (l: LaneSummary) => (uses(l.source.id) < uses(l.target.id) ? l.source : l.target)
  const groups = new Map<string, [LaneSummary['target'], LaneSummary[]]>()
  for (const lane of lanes) {
    const system = own(lane)
    const group = groups.get(system.id) ?? [system, []]
    group[1].push(lane)
    groups.set(system.id, group)
  }
  return [...groups.values()].sort(([a], [b]) => (a.name < b.name ? -1 : 1))
}

function Group({ system, lanes }: { system: LaneSummary['target']; lanes: LaneSummary[] }) {
  return (
    <section className="sheet" aria-label={system.name}>
      <div className="sheet-head">
        <SystemMark system={system} />
        <Link to="/systems/$system" params={{ system: system.id }} style={{ color: 'inherit' }}>
          {system.name}
        </Link>
      </div>
      <table className="plain-table">
        <thead>
          <tr>
            <th style={{ width: 190 }}>Lane</th>
            <th style={{ width: 96 }}>From and to</th>
            <th className="num" style={{ width: 76 }}>
              In step
            </th>
            <th>Open</th>
            <th style={{ width: 170 }}>Next</th>
            <th style={{ width: 190 }}>Timetable</th>
            <th style={{ width: 104 }}>Compared</th>
          </tr>
        </thead>
        <tbody>
          {lanes.map((lane) => (
            <Row key={lane.id} lane={lane} />
          ))}
        </tbody>
      </table>
    </section>
  )
}

function Row({ lane }: { lane: LaneSummary }) {
  const { standing } = lane
  const compared = standing.runId !== null && !standing.isStale
  return (
    <tr>
      <td>
        <Link to="/lanes/$lane" params={{ lane: lane.id }} className="strong">
          {lane.name}
        </Link>{' '}
        {lane.draftAt && (
          <Link to={draftPage(lane)} params={{ lane: lane.id }} className="tag ochre" title={`changed ${when(lane.draftAt)}`}>
            not saved
          </Link>
        )}
      </td>
      <td>
        <span className="row" style={{ gap: 5 }}>
          <SystemMark system={lane.source} /> → <SystemMark system={lane.target} />
        </span>
      </td>
      <td className="num">{compared ? share(standing.inStep, standing.compared) : '–'}</td>
      <td>
        <span className="row wrap" style={{ gap: 5 }}>
          {openOf(lane).map((o) => (
            <OpenTag key={o.key} open={o} />
          ))}
          {lane.unpairedThere > 0 && (
            <Link to="/lanes/$lane/pairs" params={{ lane: lane.id }} search={{ show: 'unpairedThere' }} className="tag clay">
              {count(lane.unpairedThere)} unpaired
            </Link>
          )}
        </span>
      </td>
      <td>
        <Next lane={lane} />
      </td>
      <td>{timed(lane)[0]}</td>
      <td>{standing.isStale ? <span className="tag ochre">pairs changed</span> : when(standing.comparedAt)}</td>
    </tr>
  )
}

const nextWords: Record<string, string> = {
  scope: 'Switch it on',
  pairs: 'Pair the records',
  map: 'Map the fields',
  rule: 'Look at its rule',
  preview: 'Look at what differs',
  timetable: 'Put it on a timetable',
}

/** What is to be done next in a lane, and the way there. */
function Next({ lane }: { lane: LaneSummary }) {
  const step = lane.nextStep
  if (step === null) return <span className="tag glaze">runs by itself</span>
  return (
    <Link to={`/lanes/$lane/${step as 'preview'}`} params={{ lane: lane.id }}>
      {nextWords[step] ?? step}
    </Link>
  )
}

/** What somebody came for, e.g. from an empty place on Today. */
const wanted = (state: ViewOf<'/lanes'>) => ({
  ...(state.kind ? { kind: state.kind } : {}),
  ...(state.store ? { target: state.store } : {}),
})

/** Where what is not saved of a lane is edited. */
const draftPage = (lane: LaneSummary) => (lane.work.steps.some((s) => s.key === 'map') ? '/lanes/$lane/map' : '/lanes/$lane/rule')
