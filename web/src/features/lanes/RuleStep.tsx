import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { LaneWork, Schemas } from '../../shared/api'
import { count, move, plural, value } from '../../shared/format'
import { queries } from '../../shared/queries'
import { Empty, Failed, Loaded } from '../../shared/states'
import { Trace } from '../../shared/Trace'
import { useDraft } from './draft'
import { kindOf } from './kinds'

/** The rule of a lane, and what it does to real records while it is edited. */
export function RuleStep() {
  const { lane } = useDraft()
  const choices = useQuery(queries.ruleChoices(lane.id))
  const { Form, effectWidth } = kindOf(lane.kind)
  // On a narrow screen the rule keeps the room that its fields need.
  const beside = effectWidth ? `${effectWidth}px` : 'clamp(380px, 42%, 470px)'
  return (
    <Loaded of={choices}>
      {(c) => (
        <div className="split" style={{ gridTemplateColumns: `minmax(0, 1fr) ${beside}` }}>
          <section className="sheet pad side" aria-label="Rule">
            {Form && <Form choices={c} />}
          </section>
          <div className="side">
            <Effect />
          </div>
        </div>
      )}
    </Loaded>
  )
}

function Effect() {
  const { lane, trial } = useDraft()
  const Own = kindOf(lane.kind).Effect
  if (trial.error && !trial.data) return <Failed error={trial.error} />
  if (!trial.data) return <div className="sheet">{<Empty title="Computing">on the records as last read</Empty>}</div>
  if (Own) return <Own />
  return trial.data.looksAt === 'values' ? <ValueEffect trial={trial.data} work={lane.work} /> : null
}

/** What becomes of values, from the smallest to the largest, and how far they move. */
function ValueEffect({ trial, work }: { trial: Schemas['TrialResultValueTrial']; work: LaneWork }) {
  const [open, setOpen] = useState<string | null>(null)
  const { field } = trial
  const row = (r: Schemas['TrialRecord'], group: string) => {
    const key = `${group}${r.targetKey}`
    return [
      <tr key={key}>
        <td>
          <div>{r.caption}</div>
          <span className="mono dim">{r.reference}</span> {r.hold && <span className="tag ochre">would be held</span>}
        </td>
        <td className="num struck">{value(r.now, field?.type)}</td>
        <td className="num strong">
          <button
            type="button"
            className="act"
            style={{ color: 'var(--ink)' }}
            aria-expanded={open === key}
            title="Why?"
            onClick={() => setOpen(open === key ? null : key)}
          >
            {value(r.trial, field?.type)}
          </button>
        </td>
        <td className={(r.move ?? 0) < 0 ? 'num minus' : 'num'}>{move(r.move, work.moveUnit)}</td>
      </tr>,
      open === key && (
        <tr key={`${key}-trace`}>
          <td colSpan={4} style={{ padding: 0, background: 'var(--ground)' }}>
            {r.hold && (
              <div className="line" style={{ color: 'var(--ochre)' }}>
                {r.hold.words}
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
        <span style={{ flexGrow: 1, flexShrink: 0 }}>
          {count(trial.changes)} of {plural(trial.records, 'record')} would change
        </span>
        <span className="dim small" style={{ fontWeight: 400 }}>
          {count(trial.up)} up · {count(trial.down)} down
          {trial.held > 0 && ` · ${count(trial.held)} held`}
          {trial.failing > 0 && ` · ${count(trial.failing)} not computed`}
        </span>
      </div>
      <table className="plain-table">
        <thead>
          <tr>
            <th>On real records, from the smallest to the largest</th>
            <th className="num">now{field?.unit ? `, ${field.unit}` : ''}</th>
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
