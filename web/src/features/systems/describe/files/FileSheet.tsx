import { ActionIcon, Button, NumberInput, Select, Switch, TextInput } from '@mantine/core'
import { IconTrash } from '@tabler/icons-react'
import { useMutation } from '@tanstack/react-query'
import { Failed } from '../../../../shared/states'
import type { Evidence } from '../description'
import { FieldTable } from '../FieldTable'
import { Read } from '../ListSheet'
import { Place } from '../Place'
import { Remarks } from '../Remarks'
import { recordKinds, rolesIn, rolesOf } from '../words'
import { describedColumns, type FileDescription, type FileField, type FileResource, writtenLike } from './fileDescription'
import { peekFile, proposeFile } from './useBrought'

type Proposal = Awaited<ReturnType<typeof proposeFile>>

/** One sort of file: how it is laid out, what its columns are, and how records are written as files. */
export function FileSheet(props: {
  description: FileDescription
  resource: FileResource
  evidence: Evidence
  remarks?: string[]
  brought?: { file: File; columns: string[] }
  take: (file: File, proposal: Proposal) => void
  set: (resource: FileResource) => void
  remove: () => void
}) {
  const { description, resource, brought, set } = props
  const peek = useMutation({ mutationFn: (file: File) => peekFile(file, description, resource.kind) })
  const again = useMutation({
    mutationFn: async (to: { file: File; resource: FileResource }) => {
      const { header, delimiter, encoding, kind } = to.resource
      props.take(to.file, await proposeFile(to.file, { header: header ?? 1, delimiter, encoding, kind }))
    },
  })
  const columns = brought?.columns ?? describedColumns(resource)
  const stands = inColumn(columns)
  return (
    <section className="sheet" aria-label={`Files of ${resource.label}`}>
      <div className="sheet-head row">
        <Select
          aria-label="What they hold"
          size="xs"
          w={150}
          allowDeselect={false}
          data={recordKinds}
          value={resource.kind}
          onChange={(kind) => set({ ...resource, kind: kind as FileResource['kind'] })}
        />
        <TextInput
          aria-label="What the system calls them"
          size="xs"
          w={160}
          value={resource.label}
          onChange={(e) => set({ ...resource, label: e.currentTarget.value })}
        />
        <span className="grow" />
        {brought ? (
          <>
            <Button size="xs" loading={again.isPending} onClick={() => again.mutate({ file: brought.file, resource })}>
              Propose again from {brought.file.name}
            </Button>
            <Button size="xs" variant="filled" loading={peek.isPending} onClick={() => peek.mutate(brought.file)}>
              Read some
            </Button>
          </>
        ) : (
          <span className="dim small">choose one of its files above to try it</span>
        )}
        <ActionIcon variant="subtle" aria-label={`Leave ${resource.label} out`} onClick={props.remove}>
          <IconTrash size={16} />
        </ActionIcon>
      </div>
      <Remarks of={props.remarks} />
      {(again.isError || peek.isError) && (
        <div className="pad">
          <Failed error={again.error ?? peek.error} />
        </div>
      )}
      {peek.data && <Read peeked={peek.data} label={resource.label} />}
      <div className="pad">
        <Layout resource={resource} columns={columns} set={set} />
      </div>
      <FieldTable
        label={`Columns of ${resource.label}`}
        kind={resource.kind}
        fields={resource.fields}
        stands={stands}
        roles={(now) => rolesOf(resource.kind, now)}
        evidence={props.evidence}
        peeked={peek.data?.fields}
        set={(fields) => set({ ...resource, fields })}
      />
      {(resource.children ?? []).map((list, i) => (
        <div key={list.name}>
          <div className="pad strong">{list.label ?? list.name}: rows with the same key</div>
          <FieldTable
            label={`Columns of ${list.label ?? list.name}`}
            kind={resource.kind}
            fields={list.fields}
            stands={stands}
            roles={(now) => rolesIn(list.role ?? 'none', now)}
            evidence={props.evidence}
            set={(fields) => set({ ...resource, children: resource.children?.map((c, at) => (at === i ? { ...c, fields } : c)) })}
          />
        </div>
      ))}
      {(resource.children ?? []).length === 0 && (
        <div className="pad">
          <Written description={description} resource={resource} columns={columns} set={set} />
        </div>
      )}
    </section>
  )
}

const delimiters = [
  { value: '', label: 'found out' },
  { value: ',', label: 'comma' },
  { value: ';', label: 'semicolon' },
  { value: '\t', label: 'tab' },
  { value: '|', label: 'bar' },
]

function Layout({ resource, columns, set }: { resource: FileResource; columns: string[]; set: (resource: FileResource) => void }) {
  const timed = resource.file.includes('{time}')
  const column = (label: string, name: 'key' | 'parent' | 'group', unsaid?: string) => (
    <Select
      label={label}
      size="xs"
      w={160}
      searchable
      clearable={Boolean(unsaid)}
      placeholder={unsaid}
      data={columns}
      value={resource[name] ?? null}
      onChange={(to) => set({ ...resource, [name]: to })}
    />
  )
  return (
    <div className="row wrap" style={{ alignItems: 'end' }}>
      <Place label="Called; {time} for the time" width={220} at={resource.file} set={(file) => set({ ...resource, file: file ?? '' })} />
      {timed && <Place label="Form of the time" at={resource.time} set={(time) => set({ ...resource, time: time ?? '' })} />}
      <NumberInput
        label="Line with the names"
        size="xs"
        w={130}
        min={0}
        max={50}
        value={resource.header ?? 1}
        onChange={(header) => set({ ...resource, header: Number(header) || 0 })}
      />
      <Select
        label="Between cells"
        size="xs"
        w={120}
        allowDeselect={false}
        data={delimiters}
        value={resource.delimiter ?? ''}
        onChange={(delimiter) => set({ ...resource, delimiter: delimiter || null })}
      />
      <Place label="Encoding" unsaid="found out" width={130} at={resource.encoding} set={(encoding) => set({ ...resource, encoding })} />
      {column('Their key', 'key')}
      {resource.kind === 'item' && column('Sisters share', 'group', 'nothing')}
      {resource.kind === 'stockLevel' && column('It belongs to', 'parent', 'nothing')}
      {timed && (
        <Switch
          label="Each file holds all there is"
          checked={resource.whole ?? true}
          onChange={(e) => set({ ...resource, whole: e.currentTarget.checked })}
        />
      )}
    </div>
  )
}

function Written(props: {
  description: FileDescription
  resource: FileResource
  columns: string[]
  set: (resource: FileResource) => void
}) {
  const { description, resource, set } = props
  const { write } = resource
  const change = (to: Partial<NonNullable<typeof write>>) => write && set({ ...resource, write: { ...write, ...to } })
  return (
    <div className="stack" style={{ gap: 8 }}>
      <div className="row">
        <Switch
          label="Records are written as files"
          checked={Boolean(write)}
          onChange={(e) => set({ ...resource, write: e.currentTarget.checked ? writtenLike(resource) : null })}
        />
        <span className="dim small">
          {write && !description.in
            ? 'say below from which folder it takes them'
            : 'the columns that are written have a name under “Written as”'}
        </span>
      </div>
      {write && (
        <div className="row wrap" style={{ alignItems: 'end', paddingLeft: 48 }}>
          <Place label="Called, with {time}" width={220} at={write.file} set={(file) => change({ file: file ?? '' })} />
          <Place label="Column of the key" width={130} at={write.key} set={(key) => change({ key: key ?? '' })} />
          <Select
            label="Between written cells"
            size="xs"
            w={140}
            allowDeselect={false}
            data={delimiters.filter((d) => d.value)}
            value={write.delimiter ?? ','}
            onChange={(delimiter) => change({ delimiter: delimiter ?? ',' })}
          />
          <Place label="Written in" width={130} at={write.encoding} set={(encoding) => change({ encoding: encoding ?? 'utf-8' })} />
          <NumberInput
            label="Records a file"
            size="xs"
            w={110}
            min={1}
            max={100_000}
            value={write.batchSize ?? 500}
            onChange={(size) => change({ batchSize: Number(size) || 1 })}
          />
          <NumberInput
            label="New keys from"
            size="xs"
            w={140}
            min={0}
            placeholder="none are made"
            value={write.newKeysFrom ?? ''}
            onChange={(from) => change({ newKeysFrom: from === '' ? null : Number(from) })}
          />
        </div>
      )}
    </div>
  )
}

const inColumn = (columns: string[]) => ({
  of: (field: FileField) => field.column,
  cell: (field: FileField, name: string, change: (to: Partial<FileField>) => void) => (
    <>
      <Select
        aria-label={`${name}: column`}
        size="xs"
        searchable
        clearable
        placeholder="in no column"
        data={columns}
        value={field.column ?? null}
        onChange={(column) => change({ column, always: null })}
      />
      {!field.column && (
        <TextInput
          aria-label={`${name}: always`}
          size="xs"
          placeholder="always the same, e.g. EUR"
          value={field.always ?? ''}
          onChange={(e) => change({ always: e.currentTarget.value || null })}
        />
      )}
    </>
  ),
  writable: (field: FileField) => Boolean(field.column),
  blank: (name: string): FileField => ({ name, column: null, type: 'text' }),
})
