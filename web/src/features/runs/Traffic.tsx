import { Link } from '@tanstack/react-router'
import type { RunSummary, Schemas } from '../../shared/api'
import { clockSeconds, count, milliseconds, plural } from '../../shared/format'
import { LongTable } from '../../shared/LongTable'
import { queries } from '../../shared/queries'
import { Empty } from '../../shared/states'

/** How long the run was at work, and what its requests went through; where something went wrong, the way to it. */
export function TrafficLine({ run }: { run: RunSummary }) {
  const t = run.traffic
  if (t.requests === 0) return null
  const waited = run.endedAt ? Date.parse(run.endedAt) - Date.parse(run.startedAt) - t.workedMs : 0
  const parts = [
    `${milliseconds(t.workedMs)} at work`,
    waited > 2000 && `${milliseconds(waited)} waiting for a person or its turn`,
    t.lostWaitedMs > 500 && `${milliseconds(t.lostWaitedMs)} of it waiting for answers that never came`,
    t.limitWaitedMs > 500 && `${milliseconds(t.limitWaitedMs)} of it waiting for the limit of a system`,
    t.repeatWaitedMs > 0 && `${milliseconds(t.repeatWaitedMs)} before repeating what failed`,
  ].filter(Boolean)
  return (
    <div className="dim small">
      {parts.join(' · ')} · {plural(t.requests, 'request')}
      {t.repeats + t.lost > 0 && (
        <>
          {', '}
          <Link to="/runs/$run" params={{ run: String(run.id) }} search={{ tab: 'requests' }} className="warns">
            {count(t.repeats)} repeated, {count(t.lost)} without an answer
          </Link>
        </>
      )}
    </div>
  )
}

type Trouble = Schemas['TroubleRow']

/** The requests that were not answered at once, and what became of each. */
export function Troubles({ run }: { run: RunSummary }) {
  return (
    <div className="sheet" style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
      <LongTable<Trouble>
        label="Requests that were not answered at once"
        pages={queries.troubles(run.id, run.traffic.requests)}
        rowKey={(t) => String(t.id)}
        columns={[
          { key: 'at', head: 'Sent', width: '84px', cell: (t) => clockSeconds(t.at) },
          { key: 'system', head: 'System', width: '158px', cell: (t) => t.system },
          { key: 'request', head: 'Request', width: '190px', cell: (t) => <span className="mono">{t.request}</span> },
          { key: 'why', head: 'What went wrong', width: 'minmax(0, 1fr)', cell: (t) => <span title={t.why.words}>{t.why.words}</span> },
          { key: 'attempts', head: 'Attempts', width: '84px', numeric: true, cell: (t) => count(t.attempts) },
          { key: 'became', head: 'What became of it', width: '184px', cell: (t) => <Became trouble={t} /> },
        ]}
        empty={<Empty title="None">Every request was answered at once.</Empty>}
      />
    </div>
  )
}

function Became({ trouble: t }: { trouble: Trouble }) {
  if (t.answered) return <span className="tag glaze">answered at attempt {t.attempts}</span>
  if (t.lost > 0) return <span className="tag ochre">no answer: looked up afterwards</span>
  return <span className="tag harm">given up</span>
}
