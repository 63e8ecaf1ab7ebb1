import { useDebouncedValue } from '@mantine/hooks'
import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import type { Schemas } from '../../../shared/api'
import { count } from '../../../shared/format'
import { queries } from '../../../shared/queries'
import { shown } from '../../../shared/shown'
import { Failed } from '../../../shared/states'

type Effect = Schemas['DescriptionEffect']

/** What a description does to the records that are kept and to lanes, before it is saved in place of the one in force. */
export function EffectOf({ system, document, address }: { system: string; document: string; address: string }) {
  const [tried] = useDebouncedValue(document, 300)
  const effect = useQuery(queries.descriptionEffect(system, { document: tried, address }))
  if (effect.isError) return <Failed error={effect.error} />
  return (
    <section aria-label="What it would do" className="stack" style={{ gap: 8 }} aria-busy={effect.isFetching}>
      <strong>What it would do</strong>
      {effect.data ? <Told system={system} effect={effect.data} /> : <span className="dim">Reading the kept records again …</span>}
    </section>
  )
}

function Told({ system, effect }: { system: string; effect: Effect }) {
  if (effect.kinds.length === 0 && effect.lanes.length === 0)
    return <span className="dim">Every record that is kept is read as before, and every lane goes on as it is.</span>
  return (
    <>
      {effect.kinds.map((kind) => (
        <OfKind key={kind.kind} system={system} kind={kind} />
      ))}
      {effect.lanes.map((lane) => (
        <div key={lane.lane} className="note harm">
          <span>
            <Link to="/lanes/$lane" params={{ lane: lane.lane }}>
              {lane.name}
            </Link>
            : {lane.faults.join(' ')}
          </span>
        </div>
      ))}
    </>
  )
}

function OfKind({ system, kind }: { system: string; kind: Schemas['KindEffect'] }) {
  if (kind.said)
    return (
      <div className="note ochre">
        <span>
          {kind.looked > 0 ? `${count(kind.looked)} ` : ''}
          {kind.label}: {kind.said}.
        </span>
      </div>
    )
  return (
    <div className="note ochre">
      <div className="stack grow" style={{ gap: 6 }}>
        <span>
          {count(kind.otherwise)} of {count(kind.looked)} {kind.label} would be read otherwise
          {kind.troubled > 0 ? `, ${count(kind.troubled)} of them not as described` : ''}.
        </span>
        {kind.fields.map((field) => (
          <details key={field.field}>
            <summary>
              <span className="mono">{field.field}</span> in {count(field.records)}
            </summary>
            {field.first.map((one) => (
              <div key={one.key} className="small">
                <Link to="/systems/$system" params={{ system }} search={{ kind: kind.kind, row: one.key }}>
                  {one.key}
                </Link>
                : {shown(one.before)} → {shown(one.after)}
              </div>
            ))}
            {field.records > field.first.length && <span className="dim small">and {count(field.records - field.first.length)} more</span>}
          </details>
        ))}
      </div>
    </div>
  )
}
