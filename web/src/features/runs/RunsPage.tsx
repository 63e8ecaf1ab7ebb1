import { useNavigate } from '@tanstack/react-router'
import { api, type RunSummary, take } from '../../shared/api'
import { count, lasted, when } from '../../shared/format'
import { LongTable } from '../../shared/LongTable'
import { SystemMark } from '../../shared/SystemMark'
import { Empty } from '../../shared/states'

export function RunsPage() {
  return (
    <div className="page page-fixed">
      <div className="page-head">
        <h1>Runs</h1>
        <span className="dim">what happened, newest first</span>
      </div>
      <RunsTable />
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

const triggers: Record<RunSummary['trigger'], string> = { person: '', timetable: 'timetable', setup: 'setting up' }

export function RunsTable({ lane }: { lane?: string }) {
  const navigate = useNavigate()
  return (
    <div className="sheet" style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
      <LongTable<RunSummary>
        label="Runs"
        queryKey={['runs', 'list', lane]}
        fetch={(offset, limit) => take(api.GET('/api/runs', { params: { query: { lane, offset, limit } } }))}
        rowKey={(r) => String(r.id)}
        open={(r) => void navigate({ to: '/runs/$run', params: { run: String(r.id) }, search: {} })}
        columns={[
          { key: 'id', head: 'Run', width: '56px', cell: (r) => <span className="mono">{r.id}</span> },
          { key: 'at', head: 'Started', width: '110px', cell: (r) => when(r.startedAt) },
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
          { key: 'took', head: 'took', width: '84px', numeric: true, cell: (r) => lasted(r.startedAt, r.endedAt) },
        ]}
        empty={<Empty title="No run yet">A lane’s “Run now” or its timetable makes the first.</Empty>}
      />
    </div>
  )
}
