import { NumberInput, Switch } from '@mantine/core'
import type { LaneSummary } from '../../shared/api'
import { count, plural } from '../../shared/format'
import { guardNames } from '../../shared/guardNames'
import { Empty } from '../../shared/states'
import { type GuardLimits, useDraft } from './draft'

/** The limits at which the lane stops before its first write and asks, and which of them would stop it now. */
export function GuardsStep() {
  const { lane, trial } = useDraft()
  const would = trial.data
  return (
    <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 430px' }}>
      <section className="sheet pad stack side" aria-label="Guards">
        <span className="dim">
          A run that goes beyond one of these stops before its first write and waits for a person, who sends all of it, only what no guard
          points at, or none. An empty limit is not watched.
        </span>
        <div className="field-grid" style={{ gridTemplateColumns: '300px minmax(0, 1fr)' }}>
          {lane.work.limits.map((l) => (
            <Limit key={l.limit} limit={l} />
          ))}
        </div>
      </section>
      <section className="sheet side" aria-labelledby="would">
        <h2 id="would">With these limits, a run now</h2>
        {!would && <Empty title="Computing">on the records as last read</Empty>}
        {would && would.tripped.length === 0 && (
          <div className="line" style={{ display: 'block' }}>
            <span className="tag glaze">would go through</span> {count(would.changes)} of {plural(would.records, 'record')} would change,
            and no guard points at any.
          </div>
        )}
        {would?.tripped.map((t) => (
          <div key={t.kind} className="line" style={{ gap: 4 }}>
            <span>
              <span className="tag harm">stops: {guardNames[t.kind]}</span> {t.message}
            </span>
            {t.worst.map((w) => (
              <span key={w} className="mono dim">
                {w}
              </span>
            ))}
          </div>
        ))}
      </section>
    </div>
  )
}

type Watched = LaneSummary['work']['limits'][number]

/** One limit: a number with its unit, or where there is nothing to measure, a switch. */
function Limit({ limit }: { limit: Watched }) {
  const { lane, guards, setGuards, faults } = useDraft()
  const key = limit.limit as keyof GuardLimits
  const now = guards[key] ?? null
  if (limit.unit === null)
    return (
      <>
        <span>{limit.label}</span>
        <Switch
          aria-label={limit.label}
          label={now ? 'stops the run' : 'is not watched'}
          checked={now === true}
          onChange={(e) => setGuards({ ...guards, [key]: e.currentTarget.checked })}
        />
      </>
    )
  return (
    <>
      <label htmlFor={key}>{limit.label}</label>
      <NumberInput
        id={key}
        w={150}
        min={0}
        placeholder="not watched"
        suffix={` ${limit.unit === 'currency' ? lane.currency : limit.unit}`}
        value={typeof now === 'number' ? now : ''}
        error={faults.some((f) => f.path === key)}
        onChange={(v) => setGuards({ ...guards, [key]: v === '' ? null : Number(v) })}
      />
    </>
  )
}
