import type { Schemas } from '../../shared/api'
import { count } from '../../shared/format'
import { Scrolls } from '../../shared/Scrolls'

/** What was sent and cannot be kept: each with its reason, as it was sent, beside the other record of the same key. */
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
          <div key={i}>
            <div className="small">{u.words}</div>
            <div style={{ display: 'grid', gap: 8, gridTemplateColumns: u.other ? '1fr 1fr' : '1fr' }}>
              <Sent text={u.raw} />
              {u.other && <Sent text={u.other} />}
            </div>
          </div>
        ))}
      </Scrolls>
    </section>
  )
}

function Sent({ text }: { text: string }) {
  return (
    <pre className="mono small" style={{ margin: 0, whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' }}>
      {text}
    </pre>
  )
}
