import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import type { Schemas } from '../../shared/api'
import { value } from '../../shared/format'
import { queries } from '../../shared/queries'
import { Loaded } from '../../shared/states'

type Kind = Schemas['RecordKind']

const typeWords: Partial<Record<Schemas['FieldType'], string>> = {
  html: 'HTML',
  integer: 'whole number',
  decimal: 'number',
  money: 'amount',
  boolean: 'yes or no',
  instant: 'point in time',
  image: 'image address',
}

/** A place to work from: what each field holds, what it is, and which lanes read or write it. */
/** What fields a system has, and where each is at work. */
export function Fields({ id }: { id: string }) {
  const fields = useQuery(queries.fields(id))
  const atWork = useQuery(queries.fieldsAtWork(id))
  return (
    <Loaded of={fields}>
      {(all) => (
        <div className="stack">
          {all.map((k) => (
            <section key={k.kind} className="sheet" aria-label={`Fields of ${k.label}`}>
              <h2>{k.label}</h2>
              <table className="plain-table">
                <thead>
                  <tr>
                    <th style={{ width: '19%' }}>Field</th>
                    <th style={{ width: '17%' }}>What it is</th>
                    <th>Some values</th>
                    <th style={{ width: '30%' }}>Used in</th>
                    <th style={{ width: 120 }}>May be written</th>
                  </tr>
                </thead>
                <tbody>
                  {k.fields.map((f) => (
                    <FieldRow
                      key={f.name}
                      system={id}
                      kind={k.kind}
                      field={f}
                      atWork={atWork.data?.find((w) => w.kind === k.kind && w.field === f.name)}
                    />
                  ))}
                </tbody>
              </table>
            </section>
          ))}
        </div>
      )}
    </Loaded>
  )
}

function FieldRow(props: { system: string; kind: Kind; field: Schemas['FieldDescription']; atWork: Schemas['FieldAtWork'] | undefined }) {
  const { field: f, atWork } = props
  const facts = [
    f.list && `list ${f.list}`,
    f.unit,
    f.required && 'required',
    !f.canBeEmptied && !f.required && f.writable && 'cannot be emptied',
  ]
  return (
    <tr>
      <td className="strong">{f.label}</td>
      <td>
        {typeWords[f.type] ?? f.type}
        <div className="dim small">{facts.filter(Boolean).join(', ')}</div>
      </td>
      <td className="small" style={{ overflowWrap: 'anywhere' }}>
        {(atWork?.samples ?? []).map((s, i) => (
          <span key={s}>
            {i > 0 && <span className="dim"> · </span>}
            {short(value(s, f.type))}
          </span>
        ))}
        {atWork && atWork.samples.length === 0 && <span className="dim">nothing in the records looked at</span>}
      </td>
      <td className="small">
        {(atWork?.lanes ?? []).map((l) => (
          <div key={`${l.laneId}${l.writes}`}>
            <Link to="/lanes/$lane" params={{ lane: l.laneId }}>
              {l.name}
            </Link>{' '}
            <span className="dim">{l.writes ? 'writes it' : 'reads it'}</span>
          </div>
        ))}
      </td>
      <td>{f.writable ? 'yes' : ''}</td>
    </tr>
  )
}

const short = (text: string) => (text.length > 60 ? `${text.slice(0, 58)}…` : text)
