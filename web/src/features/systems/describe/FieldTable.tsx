import { ActionIcon, NumberInput, Select, Switch, TextInput } from '@mantine/core'
import { IconTrash } from '@tabler/icons-react'
import type { Schemas } from '../../../shared/api'
import { type Evidence, evidenceOf, type Field, type Resource } from './description'
import { rolesOf, types } from './words'

type Peeked = Schemas['PeekedField']

/** The fields of a list: where each stands, what it holds, what it is taken for and why, and under which name it is written. */
export function FieldTable(props: { resource: Resource; evidence: Evidence; peeked?: Peeked[]; set: (fields: Field[]) => void }) {
  const { resource, evidence, peeked, set } = props
  const change = (at: number, to: Partial<Field>) => set(resource.fields.map((f, i) => (i === at ? { ...f, ...to } : f)))
  return (
    <>
      <table className="field-table" aria-label={`Fields of ${resource.label}`}>
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
          {resource.fields.map((field, i) => (
            <FieldRow
              // biome-ignore lint/suspicious/noArrayIndexKey: a field is told by its place while its name is being typed
              key={i}
              field={field}
              kind={resource.kind}
              told={evidence[evidenceOf(resource.kind, field.path)]}
              peeked={peeked?.find((p) => p.name === field.name)}
              change={(to) => change(i, to)}
              remove={() => set(resource.fields.filter((_, at) => at !== i))}
            />
          ))}
        </tbody>
      </table>
      <div style={{ padding: '8px 14px' }}>
        <button
          type="button"
          className="act"
          onClick={() => set([...resource.fields, { name: `field${resource.fields.length + 1}`, path: '', type: 'text' }])}
        >
          Add a field
        </button>
      </div>
    </>
  )
}

const isNumber = (field: Field) => ['integer', 'decimal', 'money', 'percent', 'weight', 'length'].includes(field.type ?? 'text')

function FieldRow(props: {
  field: Field
  kind: Schemas['RecordKind']
  told?: { values: string[]; reasons: string[] }
  peeked?: Peeked
  change: (to: Partial<Field>) => void
  remove: () => void
}) {
  const { field, kind, told, peeked, change, remove } = props
  const values = peeked?.values ?? told?.values ?? []
  const name = field.label ?? field.name
  return (
    <tr>
      <td>
        <TextInput
          aria-label={`${name}: where it stands`}
          size="xs"
          classNames={{ input: 'mono' }}
          value={field.path ?? ''}
          onChange={(e) => change({ path: e.currentTarget.value })}
        />
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
          data={rolesOf(kind, field.role)}
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
            <NumberInput
              aria-label={`${name}: times`}
              size="xs"
              hideControls
              min={0}
              value={field.factor ?? 1}
              onChange={(factor) => change({ factor: Number(factor) || 1 })}
            />
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
        {!field.writeAs && field.path && !field.path.startsWith('^') && (
          <button type="button" className="act small" onClick={() => change({ writeAs: field.path })}>
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
