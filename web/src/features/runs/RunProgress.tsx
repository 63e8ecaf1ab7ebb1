import type { RunSummary } from '../../shared/api'
import { count } from '../../shared/format'
import { useHappening } from '../../shared/live'

const phases: [RunSummary['phase'], string][] = [
  ['read', 'read both systems'],
  ['pair', 'pair'],
  ['compute', 'compute and compare'],
  ['send', 'send'],
  ['confirm', 'confirm'],
]

/** Where a run is, phase by phase. */
export function RunProgress({ run }: { run: RunSummary }) {
  const happening = useHappening('run', String(run.id))
  const source = useHappening('read', run.source.id)
  const target = useHappening('read', run.target.id)
  const shown = run.preview ? phases.slice(0, 3) : phases
  const at = shown.findIndex(([p]) => p === run.phase)
  const over = run.state !== 'working'
  return (
    <div className="sheet pad stack" role="status" aria-label="Progress">
      <ol className="row wrap" style={{ listStyle: 'none', margin: 0, padding: 0, gap: 18 }}>
        {shown.map(([phase, text], i) => (
          <li key={phase} className={!over && i === at ? 'strong' : 'dim'}>
            {run.phase === 'finished' || i < at ? '✓' : !over && i === at ? '●' : '○'} {text}
          </li>
        ))}
      </ol>
      {!over && run.phase === 'read' && (
        <span className="small dim">
          {[source, target]
            .filter((h) => h?.done !== undefined)
            .map((h) => `${h?.id === run.source.id ? run.source.name : run.target.name}: ${count(h?.done ?? 0)} read`)
            .join(' · ') || 'asking both systems'}
        </span>
      )}
      {!over && happening?.total ? (
        <>
          <div className="progress">
            <i style={{ width: `${((happening.done ?? 0) / happening.total) * 100}%` }} />
          </div>
          <span className="small dim">
            {count(happening.done ?? 0)} of {count(happening.total)} {run.phase === 'confirm' ? 'confirmed' : 'sent'}
          </span>
        </>
      ) : null}
    </div>
  )
}
