import { NumberInput, Switch } from '@mantine/core'
import { count, plural } from '../../shared/format'
import { Empty } from '../../shared/states'
import { type GuardLimits, useDraft } from './draft'
import { guardNames } from './guardNames'

/** The limits at which the lane stops before its first write and asks, and which of them would stop it now. */
export function GuardsStep() {
  const { lane, document, set, faults, rule, map } = useDraft()
  const guards = document.guards
  const amend = (change: Partial<GuardLimits>) => set({ guards: { ...guards, ...change } })
  const trial = lane.kind === 'item' ? map.data : rule.data
  const limit = (
    key: 'changedShare' | 'priceMove' | 'minMargin' | 'toZero' | 'emptiedTexts' | 'removed' | 'failingTimes',
    suffix: string,
  ) => (
    <NumberInput
      id={key}
      w={150}
      min={0}
      placeholder="not watched"
      suffix={suffix}
      value={guards[key] ?? ''}
      error={faults.some((f) => f.path === key)}
      onChange={(v) => amend({ [key]: v === '' ? null : Number(v) })}
    />
  )
  const price = lane.kind !== 'stock'
  return (
    <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 430px' }}>
      <section className="sheet pad stack side" aria-label="Guards">
        <span className="dim">
          A run that goes beyond one of these stops before its first write and waits for a person, who sends all of it, only what no guard
          points at, or none. An empty limit is not watched.
        </span>
        <div className="field-grid" style={{ gridTemplateColumns: '300px minmax(0, 1fr)' }}>
          <label htmlFor="changedShare">More of the compared records change than</label>
          {limit('changedShare', ' %')}
          {price && (
            <>
              <label htmlFor="priceMove">
                {lane.kind === 'item' ? 'A first price differs by more than' : 'A price moves by more than'}
              </label>
              {limit('priceMove', ' %')}
              <span>A price falls below its cost</span>
              <Switch
                label={guards.belowCost ? 'stops the run' : 'is not watched'}
                checked={guards.belowCost ?? false}
                onChange={(e) => amend({ belowCost: e.currentTarget.checked })}
              />
              <label htmlFor="minMargin">The margin, of the net price, falls below</label>
              {limit('minMargin', ' %')}
              <span>A price becomes zero</span>
              <Switch
                label={guards.zeroPrice ? 'stops the run' : 'is not watched'}
                checked={guards.zeroPrice ?? false}
                onChange={(e) => amend({ zeroPrice: e.currentTarget.checked })}
              />
            </>
          )}
          {lane.kind === 'stock' && (
            <>
              <label htmlFor="toZero">More quantities fall to 0 than</label>
              {limit('toZero', ' records')}
            </>
          )}
          {lane.kind === 'item' && (
            <>
              <label htmlFor="emptiedTexts">More texts are emptied than</label>
              {limit('emptiedTexts', ' records')}
              <label htmlFor="removed">More listings are hidden or ended than</label>
              {limit('removed', ' records')}
            </>
          )}
          <label htmlFor="failingTimes">More records fail than usual, times</label>
          {limit('failingTimes', ' ×')}
        </div>
      </section>
      <section className="sheet side" aria-labelledby="would">
        <h2 id="would">With these limits, a run now</h2>
        {!trial && <Empty title="Computing">on the records as last read</Empty>}
        {trial && trial.tripped.length === 0 && (
          <div className="line" style={{ display: 'block' }}>
            <span className="tag glaze">would go through</span> {count(trial.changes)} of {plural(trial.records, 'record')} would change,
            and no guard points at any.
          </div>
        )}
        {trial?.tripped.map((t) => (
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
