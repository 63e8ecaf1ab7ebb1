import { Select } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import type { RunSummary } from '../../shared/api'
import { count, dayAndClock, milliseconds } from '../../shared/format'
import { LongTable } from '../../shared/LongTable'
import type { ViewOf } from '../../shared/listState'
import { Period } from '../../shared/Period'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Empty } from '../../shared/states'
import { useView } from '../../shared/useView'

export function RunsPage() {
  const [state, set] = useView('/runs')
  return (
    <div className="page page-fixed">
      <div className="page-head">
        <h1>Runs</h1>
        <span className="dim">what happened, newest first</span>
      </div>
      <Filters state={state} set={set} />
      <RunsTable filter={{ Lane: state.lane, Outcome: state.show, By: state.by, From: state.from, Until: state.until }} />
    </div>
  )
}

const outcomes = [
  { value: 'working', label: 'at work' },
  { value: 'waits', label: 'waits for a decision' },
  { value: 'done', label: 'done' },
  { value: 'held', label: 'done, with values held' },
  { value: 'notThere', label: 'done, with failed writes' },
  { value: 'failed', label: 'failed' },
  { value: 'superseded', label: 'superseded' },
]

function Filters({ state, set }: { state: ViewOf<'/runs'>; set: (change: ViewOf<'/runs'>) => void }) {
  const lanes = useQuery(queries.lanes())
  const people = useQuery(queries.starters())
  const none = !state.lane && !state.show && !state.by && !state.from && !state.until
  return (
    <div className="row wrap tools">
      <Select
        aria-label="Lane"
        placeholder="any lane"
        clearable
        searchable
        w={215}
        data={(lanes.data ?? []).map((l) => ({ value: l.id, label: `${l.name}: ${l.source.mark} → ${l.target.name}` }))}
        value={state.lane ?? null}
        onChange={(lane) => set({ lane: lane ?? undefined })}
      />
      <Select
        aria-label="Outcome"
        placeholder="any outcome"
        clearable
        w={165}
        data={outcomes}
        value={state.show ?? null}
        onChange={(show) => set({ show: show ?? undefined })}
      />
      <Select
        aria-label="By whom"
        placeholder="by anybody"
        clearable
        w={125}
        data={[{ value: 'timetable', label: 'the timetable' }, ...(people.data ?? []).map((p) => ({ value: p, label: p }))]}
        value={state.by ?? null}
        onChange={(by) => set({ by: by ?? undefined })}
      />
      <Period value={state} set={set} />
      {!none && (
        <button
          type="button"
          className="act"
          onClick={() => set({ lane: undefined, show: undefined, by: undefined, from: undefined, until: undefined })}
        >
          Show all runs
        </button>
      )}
    </div>
  )
}

export function outcome(run: RunSummary): [string, string] {
  const w = run.writes
  switch (run.state) {
    case 'working':
      return ['at work', 'plain']
    case 'ready':
      return w.total === 0
        ? ['nothing to change', 'glaze']
        : run.stopped
          ? ['stopped by its guards', 'harm']
          : ['waits for a decision', 'ochre']
    case 'failed':
      return ['failed', 'harm']
    case 'superseded':
      return ['superseded', 'plain']
    default:
      return w.total > 0 && w.takenBack === w.total
        ? ['taken back', 'plain']
        : w.failed > 0
          ? [`${count(w.failed)} failed`, 'harm']
          : w.held > 0
            ? [`done, ${count(w.held)} held`, 'ochre']
            : ['done', 'glaze']
  }
}

const triggers: Record<RunSummary['trigger'], string> = { person: '', timetable: 'timetable', setup: 'setting up', event: '' }

export type RunsFilter = { Lane?: string; Outcome?: string; By?: string; From?: string; Until?: string }

export function RunsTable({ filter }: { filter: RunsFilter }) {
  const navigate = useNavigate()
  return (
    <div className="sheet" style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
      <LongTable<RunSummary>
        label="Runs"
        pages={queries.runs(filter)}
        rowKey={(r) => String(r.id)}
        open={(r) => void navigate({ to: '/runs/$run', params: { run: String(r.id) }, search: {} })}
        columns={[
          { key: 'id', head: 'Run', width: '56px', cell: (r) => <span className="mono">{r.id}</span> },
          { key: 'at', head: 'Started', width: '124px', cell: (r) => dayAndClock(r.startedAt) },
          {
            key: 'lane',
            head: 'Lane',
            width: 'minmax(0, 1fr)',
            cell: (r) => (
              <span className="row">
                {r.laneName} <SystemMark system={r.source} /> → <SystemMark system={r.target} />
              </span>
            ),
          },
          { key: 'by', head: 'By', width: '100px', cell: (r) => triggers[r.trigger] || r.startedBy },
          {
            key: 'outcome',
            head: 'Outcome',
            width: '170px',
            cell: (r) => {
              const [word, tone] = outcome(r)
              return <span className={`tag ${tone}`}>{word}</span>
            },
          },
          {
            key: 'planned',
            head: 'would write',
            width: '90px',
            numeric: true,
            cell: (r) => (r.plannedAt ? count(r.writes.total) : '–'),
          },
          {
            key: 'confirmed',
            head: 'confirmed',
            width: '90px',
            numeric: true,
            cell: (r) => (r.preview ? '–' : count(r.writes.confirmed)),
          },
          {
            key: 'took',
            head: 'at work',
            width: '84px',
            numeric: true,
            cell: (r) => (r.traffic.workedMs > 0 ? milliseconds(r.traffic.workedMs) : ''),
          },
        ]}
        empty={
          Object.values(filter).some(Boolean) ? (
            <Empty title="No run matches">Take a filter away to see more.</Empty>
          ) : (
            <Empty title="No run yet">A lane’s “Run now” or its timetable makes the first.</Empty>
          )
        }
      />
    </div>
  )
}
