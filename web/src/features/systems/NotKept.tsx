import type { Schemas } from '../../shared/api'
import { count } from '../../shared/format'
import { Scrolls } from '../../shared/Scrolls'

/** What was sent and cannot be kept: each with its reason, and where two share a key with what tells them apart. */
export function NotKept({ first, all, label }: { first: Schemas['ShownUnkept'][]; all: number; label: string }) {
  return (
    <section className="note harm" style={{ display: 'block' }} aria-label={`${label} that could not be kept`}>
      <div>
        <span className="strong">
          {count(all)} {label} could not be kept.
        </span>{' '}
        Choose another key in the description, or put them right in the system.
        {all > first.length && ` These are the first ${count(first.length)}.`}
      </div>
      <Scrolls label="As they were sent" style={{ maxHeight: 260 }}>
        {first.map((u, i) => (
          // Two may be the same in everything that is shown.
          // biome-ignore lint/suspicious/noArrayIndexKey: see above
          <div key={i} style={{ marginTop: 10 }}>
            <div className="small strong">{u.words}</div>
            {u.other && <Apart one={u.raw} other={u.other} />}
            <details>
              <summary className="small">as {u.other ? 'they were' : 'it was'} sent</summary>
              <div style={{ display: 'grid', gap: 8, gridTemplateColumns: u.other ? '1fr 1fr' : '1fr' }}>
                <Sent text={u.raw} />
                {u.other && <Sent text={u.other} />}
              </div>
            </details>
          </div>
        ))}
      </Scrolls>
    </section>
  )
}

/** The values by which two records of one key differ, side by side. */
function Apart({ one, other }: { one: string; other: string }) {
  const [left, right] = [values(one), values(other)]
  if (!left || !right) return null
  const names = [...new Set([...left.keys(), ...right.keys()])].filter((n) => left.get(n) !== right.get(n))
  if (names.length === 0) return <div className="small">They are the same in every value.</div>
  return (
    <table className="small">
      <tbody>
        {names.map((n) => (
          <tr key={n}>
            <th className="mono" scope="row" style={{ textAlign: 'left', paddingRight: 16 }}>
              {n}
            </th>
            <td style={{ paddingRight: 16 }}>{left.get(n) ?? '–'}</td>
            <td>{right.get(n) ?? '–'}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

// A record that is too long was cut when it was kept, and is no JSON any more.
function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}

function values(text: string) {
  const record = parsed(text)
  if (record === null || typeof record !== 'object') return undefined
  return new Map(Object.entries(record).map(([name, value]) => [name, typeof value === 'string' ? value : JSON.stringify(value)]))
}

function Sent({ text }: { text: string }) {
  const record = parsed(text)
  return (
    <pre className="mono small" style={{ margin: 0, whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' }}>
      {record === undefined ? text : JSON.stringify(record, null, 2)}
    </pre>
  )
}
