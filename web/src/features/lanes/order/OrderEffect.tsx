import { Link } from '@tanstack/react-router'
import type { Schemas } from '../../../shared/api'
import { count, plural, value, worth } from '../../../shared/format'

const rows = [
  ['taken', 'taken'],
  ['waiting', 'wait'],
  ['held', 'held'],
  ['skipped', 'skipped'],
] as const

const words: Record<Schemas['OrderOutcome'], string> = { take: 'taken', wait: 'waits', hold: 'held', skip: 'skipped' }

/** What an order rule makes of the orders of the last sixty days, beside what the version in force makes of them. */
export function OrderEffect({ trial, lane }: { trial: Schemas['TrialResultOrderTrial']; lane: string }) {
  // Where all is of one currency, it is said once, above the column.
  const currencies = [...new Set(rows.flatMap(([key]) => [...trial.trial[key].worth, ...trial.inForce[key].worth].map((w) => w.currency)))]
  const one = currencies.length === 1 ? currencies[0] : undefined
  const sums = (amounts: Schemas['Amount'][]) => (one === undefined ? worth(amounts) : value(String(amounts[0]?.sum ?? 0), 'money'))
  return (
    <section className="sheet" aria-label="What it would do">
      <div className="sheet-head">
        <span className="grow">{plural(trial.records, 'order')} of the last 60 days</span>
        <span className="dim small" style={{ fontWeight: 400 }}>
          {trial.changes === 0 ? 'none would be treated otherwise' : `${count(trial.changes)} would be treated otherwise`}
        </span>
      </div>
      <table className="plain-table tight">
        <thead>
          <tr>
            <th>Orders</th>
            <th className="num">by this rule</th>
            <th className="num">{one ?? 'worth'}</th>
            <th className="num">in force</th>
            <th className="num">{one ?? 'worth'}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([key, word]) => (
            <tr key={key}>
              <td>{word}</td>
              <td className={trial.trial[key].count === trial.inForce[key].count ? 'num strong' : 'num strong plus'}>
                {count(trial.trial[key].count)}
              </td>
              <td className="num">{sums(trial.trial[key].worth)}</td>
              <td className="num dim">{count(trial.inForce[key].count)}</td>
              <td className="num dim">{sums(trial.inForce[key].worth)}</td>
            </tr>
          ))}
        </tbody>
        {trial.changed.length > 0 && (
          <>
            <thead>
              <tr>
                <th colSpan={5}>Those that change, the largest first</th>
              </tr>
            </thead>
            <tbody>
              {trial.changed.map((c) => (
                <tr key={c.sourceKey}>
                  <td colSpan={2}>
                    <Link to="/orders/$lane/$order" params={{ lane, order: c.sourceKey }} className="mono">
                      {c.number}
                    </Link>{' '}
                    <span className="dim">{c.buyer}</span>
                  </td>
                  <td className="num">{sums([c.total])}</td>
                  <td className="num struck">{c.inForce ? words[c.inForce] : 'not computed'}</td>
                  <td className="num strong">{c.trial ? words[c.trial] : 'not computed'}</td>
                </tr>
              ))}
            </tbody>
          </>
        )}
        {trial.causes.length > 0 && (
          <>
            <thead>
              <tr>
                <th colSpan={5}>Why orders wait or are held</th>
              </tr>
            </thead>
            <tbody>
              {trial.causes.map((c) => (
                <tr key={c.cause}>
                  <td colSpan={4}>{c.words}</td>
                  <td className="num">
                    <Link to="/orders" search={{ lane, cause: c.cause }}>
                      {count(c.count)}
                    </Link>
                  </td>
                </tr>
              ))}
            </tbody>
          </>
        )}
      </table>
    </section>
  )
}
