import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type LaneSummary, type Schemas, take } from '../../shared/api'
import { count, move, plural, value } from '../../shared/format'
import { Empty, Failed, Loaded } from '../../shared/states'
import { Trace } from '../../shared/Trace'
import { useDraft } from './draft'
import { PriceForm } from './PriceForm'
import { StockForm } from './StockForm'

export type Choices = Schemas['RuleChoices']

/** The price rule or stock rule, and what it does to real items while it is edited. */
export function RuleStep() {
  const { lane, document, set, faults } = useDraft()
  const choices = useQuery({
    queryKey: ['rule-choices', lane.id],
    queryFn: () => take(api.GET('/api/lanes/{id}/rule/choices', { params: { path: { id: lane.id } } })),
  })
  return (
    <Loaded of={choices}>
      {(c) => (
        <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 470px' }}>
          <section className="sheet pad side" aria-label="Rule">
            {document.price && <PriceForm rule={document.price} set={(price) => set({ price })} choices={c} faults={faults} />}
            {document.stock && <StockForm rule={document.stock} set={(stock) => set({ stock })} choices={c} faults={faults} />}
          </section>
          <div className="side">
            <Effect lane={lane} unit={lane.kind === 'price' ? '€' : 'pcs'} />
          </div>
        </div>
      )}
    </Loaded>
  )
}

function Effect({ lane, unit }: { lane: LaneSummary; unit: string }) {
  const { data: trial, error } = useDraft().rule
  const [open, setOpen] = useState<string | null>(null)
  if (error && !trial) return <Failed error={error} />
  if (!trial) return <div className="sheet">{<Empty title="Computing">on the records as last read</Empty>}</div>
  const kind = lane.kind
  const row = (r: Schemas['TrialRecord'], group: string) => {
    const key = `${group}${r.targetKey}`
    return [
      <tr key={key}>
        <td>
          <div>{r.title}</div>
          <span className="mono dim">{r.sku}</span> {r.hold && <span className="tag ochre">would be held</span>}
        </td>
        <td className="num struck">{value(r.now, kind)}</td>
        <td className="num strong">
          <button
            type="button"
            className="act"
            style={{ color: 'var(--ink)' }}
            aria-expanded={open === key}
            title="Why?"
            onClick={() => setOpen(open === key ? null : key)}
          >
            {value(r.trial, kind)}
          </button>
        </td>
        <td className={(r.move ?? 0) < 0 ? 'num minus' : 'num'}>{move(r.move, kind)}</td>
      </tr>,
      open === key && (
        <tr key={`${key}-trace`}>
          <td colSpan={4} style={{ padding: 0, background: 'var(--ground)' }}>
            {r.hold && (
              <div className="line" style={{ color: 'var(--ochre)' }}>
                {r.hold}
              </div>
            )}
            <Trace steps={r.trace} />
          </td>
        </tr>
      ),
    ]
  }
  return (
    <section className="sheet" aria-label="What it would do">
      <div className="sheet-head" style={{ flexWrap: 'wrap' }}>
        <span className="grow">
          {count(trial.changes)} of {plural(trial.records, 'record')} would change
        </span>
        <span className="dim small" style={{ fontWeight: 400 }}>
          {count(trial.up)} up · {count(trial.down)} down
          {trial.held > 0 && ` · ${count(trial.held)} held`}
          {trial.uncomputed > 0 && ` · ${count(trial.uncomputed)} not computed`}
        </span>
      </div>
      <table className="plain-table">
        <thead>
          <tr>
            <th>On real items, from the smallest to the largest</th>
            <th className="num">now, {unit}</th>
            <th className="num">would be</th>
            <th className="num">move</th>
          </tr>
        </thead>
        <tbody>{trial.samples.map((r) => row(r, 's'))}</tbody>
        {trial.largest.length > 0 && (
          <>
            <thead>
              <tr>
                <th colSpan={4}>The largest moves</th>
              </tr>
            </thead>
            <tbody>{trial.largest.map((r) => row(r, 'l'))}</tbody>
          </>
        )}
      </table>
    </section>
  )
}
