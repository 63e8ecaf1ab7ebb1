import type { Schemas } from '../../shared/api'
import { count } from '../../shared/format'

type Expected = Schemas['SystemRequests']

/** What a job would take from each system's limit in an hour, with what the other jobs take. */
export function Requests({ requests }: { requests: Expected[] }) {
  return (
    <section className="sheet pad stack" aria-label="Expected requests an hour">
      <span className="strong">Expected requests an hour</span>
      {requests.length === 0 && <span className="dim">Its systems are files, which have no limit; or it has no lanes yet.</span>}
      {requests.map((r) => (
        <OneSystem key={r.systemId} of={r} />
      ))}
      <span className="dim small">By what its lanes’ last runs took. The busiest hour of the next week is shown.</span>
    </section>
  )
}

function OneSystem({ of }: { of: Expected }) {
  const own = of.perHour ?? 0
  const share = of.limitPerHour ? (own + of.othersPerHour) / of.limitPerHour : null
  return (
    <div>
      <div>{of.name}</div>
      <div className="mono small">
        {of.perHour === null ? 'not known before a first run' : count(Math.round(own))}
        {of.othersPerHour > 0 && ` + ${count(Math.round(of.othersPerHour))} of other jobs`}
        {of.limitPerHour !== null && ` of ${count(Math.round(of.limitPerHour))}`}
      </div>
      {share !== null && (
        <div className="share" aria-hidden="true">
          <i
            style={{
              width: `${Math.min(100, share * 100)}%`,
              background: share > 1 ? 'var(--harm)' : share > 0.7 ? 'var(--ochre)' : 'var(--glaze)',
            }}
          />
        </div>
      )}
      {share !== null && share > 1 && (
        <div className="small minus">More than the system allows: runs would wait for it and fall behind.</div>
      )}
    </div>
  )
}
