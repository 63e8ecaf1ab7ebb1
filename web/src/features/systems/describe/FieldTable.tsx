import { ActionIcon, NumberInput, Select, Switch, TextInput } from '@mantine/core'
import { IconTrash } from '@tabler/icons-react'
import { useEffect, useState } from 'react'
import type { Schemas } from '../../../shared/api'
import { type Evidence, evidenceOf } from './description'
import { types } from './words'

type Peeked = Schemas['PeekedField']
type Role = Schemas['FieldRole']

/** What a field says of itself, wherever it stands. */
type Field = Omit<Schemas['RestField'], 'path' | 'codes'>

type Standing<F> = {
  /** Where a field stands. */
  of: (field: F) => string | null | undefined
  /** What a person sees of it and changes. */
  cell: (field: F, name: string, change: (to: Partial<F>) => void) => React.ReactNode
  /** Whether it can be written under the name of its place. */
  writable: (field: F) => boolean
  /** A field that stands nowhere yet. */
  blank: (name: string) => F
}

type Told = { values: string[]; reasons: string[] }

/** The fields of a list: where each stands, what it holds, what it is taken for and why, and under which name it is written. */
export function FieldTable<F extends Field>(props: {
  label: string
  kind: Schemas['RecordKind']
  fields: F[]
  stands: Standing<F>
  roles: (now?: Role) => { value: Role; label: string }[]
  evidence: Evidence
  peeked?: Peeked[]
  set: (fields: F[]) => void
}) {
  const { kind, fields, stands, evidence, peeked, set } = props
  const change = (at: number, to: Partial<F>) => set(fields.map((f, i) => (i === at ? { ...f, ...to } : f)))
  return (
    <>
      <table className="field-table" aria-label={props.label}>
        <thead>
          <tr>
            {['Where it stands', 'What it holds', 'Called', 'Type', 'Means', 'Times, unit', 'Written as', 'Always'].map((h) => (
              <th key={h} scope="col">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {fields.map((field, i) => (
            <FieldRow
              // biome-ignore lint/suspicious/noArrayIndexKey: a field is told by its place while its name is being typed
              key={i}
              field={field}
              stands={stands}
              roles={props.roles}
              told={evidence[evidenceOf(kind, stands.of(field))]}
              peeked={peeked?.find((p) => p.name === field.name)}
              change={(to) => change(i, to)}
              remove={() => set(fields.filter((_, at) => at !== i))}
            />
          ))}
        </tbody>
      </table>
      <div style={{ padding: '8px 14px' }}>
        <button type="button" className="act" onClick={() => set([...fields, stands.blank(`field${fields.length + 1}`)])}>
          Add a field
        </button>
      </div>
    </>
  )
}

const isNumber = (field: Field) => ['integer', 'decimal', 'money', 'percent', 'weight', 'length'].includes(field.type ?? 'text')

function FieldRow<F extends Field>(props: {
  field: F
  stands: Standing<F>
  roles: (now?: Role) => { value: Role; label: string }[]
  told?: Told
  peeked?: Peeked
  change: (to: Partial<F>) => void
  remove: () => void
}) {
  const { field, stands, told, peeked, remove } = props
  const change = (to: Partial<Field>) => props.change(to as Partial<F>)
  const values = peeked?.values ?? told?.values ?? []
  const name = field.label ?? field.name
  return (
    <tr>
      <td>
        {stands.cell(field, name, props.change)}
        {told && <span className="small dim clip2">{told.reasons.join('; ')}</span>}
      </td>
      <td className="small">
        <span className="clip2">{values.length > 0 ? values.join(' · ') : <span className="dim">not seen yet</span>}</span>
        {peeked && peeked.missing > 0 && <span className="dim">nothing in {peeked.missing}</span>}
        {peeked?.problem && (
          <span className="minus">
            {peeked.problems} not as described: {peeked.problem}
          </span>
        )}
      </td>
      <td>
        <TextInput
          aria-label={`${name}: called`}
          size="xs"
          value={field.label ?? ''}
          onChange={(e) => change({ label: e.currentTarget.value })}
        />
      </td>
      <td>
        <Select
          aria-label={`${name}: type`}
          size="xs"
          allowDeselect={false}
          data={types}
          value={field.type ?? 'text'}
          onChange={(type) => change({ type: type as Field['type'] })}
        />
        {(field.type === 'date' || field.type === 'instant') && (
          <TextInput
            aria-label={`${name}: form of the date`}
            size="xs"
            placeholder="ISO 8601"
            value={field.format ?? ''}
            onChange={(e) => change({ format: e.currentTarget.value || null })}
          />
        )}
        {field.decimalMark === ',' && (
          <button type="button" className="act small" onClick={() => change({ decimalMark: '.' })}>
            with a comma; a point instead
          </button>
        )}
      </td>
      <td>
        <Select
          aria-label={`${name}: means`}
          size="xs"
          searchable
          allowDeselect={false}
          data={props.roles(field.role)}
          value={field.role ?? 'none'}
          onChange={(role) => change({ role: role as Field['role'] })}
        />
        {field.role === 'price' && (
          <TextInput
            aria-label={`${name}: price list`}
            size="xs"
            placeholder="price list"
            value={field.list ?? ''}
            onChange={(e) => change({ list: e.currentTarget.value || null })}
          />
        )}
      </td>
      <td>
        {isNumber(field) ? (
          <>
            <Times label={`${name}: times`} factor={field.factor ?? 1} set={(factor) => change({ factor })} />
            <TextInput
              aria-label={`${name}: unit`}
              size="xs"
              placeholder="unit"
              value={field.unit ?? ''}
              onChange={(e) => change({ unit: e.currentTarget.value || null })}
            />
          </>
        ) : (
          <span className="small dim">as it is</span>
        )}
      </td>
      <td>
        <TextInput
          aria-label={`${name}: written as`}
          size="xs"
          classNames={{ input: 'mono' }}
          placeholder="read only"
          value={field.writeAs ?? ''}
          onChange={(e) => change({ writeAs: e.currentTarget.value || null })}
        />
        {!field.writeAs && stands.writable(field) && (
          <button type="button" className="act small" onClick={() => change({ writeAs: stands.of(field) })}>
            as it is read
          </button>
        )}
      </td>
      <td>
        <span className="row" style={{ gap: 4 }}>
          <Switch
            aria-label={`${name}: every record has it`}
            title="every record has it"
            size="xs"
            checked={field.required ?? false}
            onChange={(e) => change({ required: e.currentTarget.checked })}
          />
          <ActionIcon variant="subtle" aria-label={`Leave ${name} out`} onClick={remove}>
            <IconTrash size={15} />
          </ActionIcon>
        </span>
      </td>
    </tr>
  )
}

/** What a stored number is multiplied by. While it is typed it may be none yet, as the 0 of 0.01 is. */
function Times({ label, factor, set }: { label: string; factor: number; set: (factor: number) => void }) {
  const [typed, setTyped] = useState<number | string>(factor)
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another factor takes the place of what is being typed
  useEffect(() => {
    if (Number(typed) !== factor) setTyped(factor)
  }, [factor])
  return (
    <NumberInput
      aria-label={label}
      size="xs"
      hideControls
      min={0}
      value={typed}
      onChange={(to) => {
        setTyped(to)
        if (Number(to) > 0) set(Number(to))
      }}
    />
  )
}
