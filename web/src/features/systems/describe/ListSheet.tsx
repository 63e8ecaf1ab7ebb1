import { ActionIcon, Button, Checkbox, NumberInput, Select, TextInput } from '@mantine/core'
import { IconTrash } from '@tabler/icons-react'
import type { Schemas } from '../../../shared/api'
import { count } from '../../../shared/format'
import { Failed } from '../../../shared/states'
import { evidenceIn, usePeek, useProposeList } from './actions'
import { CallFields } from './CallFields'
import type { Description, Evidence, Field, Resource } from './description'
import { FieldTable } from './FieldTable'
import { Place } from './Place'
import { Remarks } from './Remarks'
import type { Secret } from './SignIn'
import { Trial } from './Trial'
import { Writing } from './Writing'
import { pagings, recordKinds, rolesOf } from './words'

/** One list of the system: how it is read and goes on, its fields, and how its records are written, each with a test beside it. */
export function ListSheet(props: {
  description: Description
  secret: Secret
  resource: Resource
  evidence: Evidence
  remarks?: string[]
  set: (resource: Resource) => void
  learn: (evidence: Evidence) => void
  remove: () => void
}) {
  const { description, secret, resource, set, remove } = props
  const peek = usePeek(description, secret)
  const propose = useProposeList(description, secret)
  const again = () =>
    propose.mutate(
      { list: resource.list, known: resource },
      {
        onSuccess: (proposal) => {
          props.learn(evidenceIn(proposal))
          set(proposal.resource)
        },
      },
    )
  return (
    <section className="sheet" aria-label={`List of ${resource.label}`}>
      <div className="sheet-head row">
        <Select
          aria-label="What it lists"
          size="xs"
          w={150}
          allowDeselect={false}
          data={recordKinds}
          value={resource.kind}
          onChange={(kind) => set({ ...resource, kind: kind as Resource['kind'] })}
        />
        <TextInput
          aria-label="What the system calls them"
          size="xs"
          w={160}
          value={resource.label}
          onChange={(e) => set({ ...resource, label: e.currentTarget.value })}
        />
        <span className="grow" />
        <Button size="xs" loading={propose.isPending} onClick={again}>
          Propose again from what it answers
        </Button>
        <Button size="xs" variant="filled" loading={peek.isPending} onClick={() => peek.mutate(resource.kind)}>
          Read some
        </Button>
        <ActionIcon variant="subtle" aria-label={`Leave ${resource.label} out`} onClick={remove}>
          <IconTrash size={16} />
        </ActionIcon>
      </div>
      <Remarks of={props.remarks} />
      {propose.isError && <Failed error={propose.error} />}
      {peek.isError && <Failed error={peek.error} />}
      {peek.data && <Read peeked={peek.data} label={resource.label} />}
      <div className="pad">
        <Listing resource={resource} set={set} />
      </div>
      <FieldTable
        label={`Fields of ${resource.label}`}
        kind={resource.kind}
        fields={resource.fields}
        stands={atPath}
        roles={(now) => rolesOf(resource.kind, now)}
        evidence={props.evidence}
        peeked={peek.data?.fields}
        set={(fields) => set({ ...resource, fields })}
      />
      <div className="pad stack">
        <Writing resource={resource} set={set} />
        {resource.write && resource.lookup && (
          <Trial description={description} secret={secret} resource={resource} keys={peek.data?.keys ?? []} />
        )}
      </div>
    </section>
  )
}

const atPath = {
  of: (field: Field) => field.path,
  cell: (field: Field, name: string, change: (to: Partial<Field>) => void) => (
    <TextInput
      aria-label={`${name}: where it stands`}
      size="xs"
      classNames={{ input: 'mono' }}
      value={field.path ?? ''}
      onChange={(e) => change({ path: e.currentTarget.value })}
    />
  ),
  writable: (field: Field) => Boolean(field.path) && !field.path?.startsWith('^'),
  blank: (name: string): Field => ({ name, path: '', type: 'text' }),
}

export function Read({ peeked, label }: { peeked: Schemas['PeekedList']; label: string }) {
  const wrong = peeked.fields.filter((f) => f.problems > 0).length
  return (
    <div className={`note ${wrong > 0 ? 'ochre' : 'glaze'}`} role="status" style={{ margin: '8px 14px' }}>
      {count(peeked.records)} {label} read{peeked.total ? ` of ${count(peeked.total)}` : ''}
      {peeked.goesOn ? ', and there are more' : ', and that is all'}.{' '}
      {wrong > 0 ? `${wrong} ${wrong === 1 ? 'field is' : 'fields are'} not as described; see below.` : 'All as described.'}
    </div>
  )
}

function Listing({ resource, set }: { resource: Resource; set: (resource: Resource) => void }) {
  const list = resource.list
  const change = (to: Partial<Schemas['RestList']>) => set({ ...resource, list: { ...list, ...to } })
  const text = (label: string, name: keyof Schemas['RestList'], hint?: string) => (
    <Place
      label={label}
      unsaid={hint}
      at={list[name] as string | null | undefined}
      set={(at) => change({ [name]: at ?? (name === 'records' ? '' : null) })}
    />
  )
  return (
    <div className="stack">
      <CallFields label="How it is listed" call={list} ways={['GET', 'graph', 'POST']} set={(call) => set({ ...resource, list: call })} />
      <div className="row wrap" style={{ alignItems: 'end' }}>
        {text('The reply keeps it at', 'records', 'the reply itself')}
        {text('Each entry keeps them at', 'each', 'the entry itself')}
        <TextInput
          label="Their key"
          size="xs"
          w={140}
          classNames={{ input: 'mono' }}
          value={resource.key}
          onChange={(e) => set({ ...resource, key: e.currentTarget.value })}
        />
        <Place
          label="The key they belong to"
          width={160}
          unsaid="to none"
          at={resource.parent}
          set={(at) => set({ ...resource, parent: at })}
        />
      </div>
      <div className="row wrap" style={{ alignItems: 'end' }}>
        <Select
          label="It goes on"
          size="xs"
          w={190}
          allowDeselect={false}
          data={pagings}
          value={list.paging ?? 'none'}
          onChange={(paging) => change({ paging: paging as Schemas['RestPaging'] })}
        />
        {!['none', 'link', undefined].includes(list.paging) && text('pages are asked by', 'pageParameter')}
        {list.paging === 'cursor' && text('the next one is at', 'nextPath')}
        {list.paging === 'page' && text('number of pages at', 'pagesPath', 'not said')}
        {text('size is asked by', 'sizeParameter', 'not asked')}
        <NumberInput
          label="entries a page"
          size="xs"
          w={110}
          hideControls
          min={1}
          max={10_000}
          value={list.size ?? 100}
          onChange={(size) => change({ size: Number(size) || 1 })}
        />
        {text('total at', 'totalPath', 'not said')}
        {text('changes are asked by', 'changedSince', 'not asked')}
        {list.changedSince && text('and told as', 'changedSinceFormat', 'ISO 8601')}
        {list.paging === 'page' && (
          <Checkbox
            label="first page is 0"
            checked={list.firstPage === 0}
            onChange={(e) => change({ firstPage: e.currentTarget.checked ? 0 : 1 })}
          />
        )}
      </div>
    </div>
  )
}
