import type { ReactNode } from 'react'
import type { Schemas } from './api'
import { DayLine } from './DayLine'
import { age, count, plural, value, when } from './format'
import { harms } from './harms'
import { SystemMark } from './SystemMark'

type Cause = Schemas['CauseView']

const columns = '104px minmax(0, 1fr) 134px 52px 128px 68px 100px'
const slimColumns = '104px minmax(0, 1fr) 146px 52px 68px'

/** Causes of a kind, each a row that leads to its records. */
export function Ledger(props: { title: string; causes: Cause[]; open: (cause: string) => void; slim?: boolean; children?: ReactNode }) {
  const { title, causes, open, slim } = props
  return (
    <section className="sheet" aria-label={title} style={{ flex: 'none' }}>
      <div className="sheet-head">
        <h2 style={{ all: 'unset', flex: 1 }}>{title}</h2>
        <span className="dim" style={{ fontWeight: 400, fontSize: 14 }}>
          {causes.length > 0 &&
            plural(
              causes.reduce((sum, c) => sum + c.count, 0),
              'mismatch',
              'mismatches',
            )}
        </span>
      </div>
      {causes.length === 0 && props.children}
      {causes.map((c) => (
        <button
          type="button"
          key={c.cause}
          className="line ledger"
          style={{ gridTemplateColumns: slim ? slimColumns : columns }}
          data-key={c.cause}
          onClick={() => open(c.cause)}
        >
          <span>
            <span className={`tag ${harms[c.harm][1]}`}>{harms[c.harm][0]}</span>
          </span>
          <span className="strong clip">{c.heading}</span>
          <span className="row" style={{ gap: 4 }}>
            {c.systems.map((s) => (
              <SystemMark key={s.id} system={s} />
            ))}
          </span>
          <span className="num strong">{count(c.count)}</span>
          {!slim && (
            <span className="num">
              <Cost cause={c} />
            </span>
          )}
          <span className="num dim" title={`the oldest since ${when(c.since)}`}>
            {age(c.since)}
          </span>
          {!slim && <DayLine days={c.trend} label={`open on the last ${c.trend.length} days: ${c.trend.join(', ')}`} />}
        </button>
      ))}
    </section>
  )
}

/** What a cause costs: money first, else pieces. */
function Cost({ cause }: { cause: Cause }) {
  const [worth] = cause.worth
  if (worth)
    return (
      <>
        {value(String(worth.sum), 'money')} <span className="dim">{worth.currency}</span>
      </>
    )
  return cause.pieces === null ? null : (
    <>
      {count(cause.pieces)} <span className="dim">pcs</span>
    </>
  )
}
