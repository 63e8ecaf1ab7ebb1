import { ActionIcon, Button, Checkbox, Select, TextInput } from '@mantine/core'
import { IconTrash } from '@tabler/icons-react'
import type { Schemas } from '../../../shared/api'
import { count } from '../../../shared/format'
import { Failed } from '../../../shared/states'
import { NotKept } from '../NotKept'
import { evidenceIn, usePeek, useProposeList } from './actions'
import { CallFields } from './CallFields'
import type { Description, Evidence, Resource } from './description'
import { FieldTable } from './FieldTable'
import { ListsInside } from './ListsInside'
import { atPath, Paging } from './Paging'
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
          onChange={(kind) => set(asKind(resource, kind as Resource['kind']))}
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
      <ListsInside description={description} secret={secret} resource={resource} set={set} />
      <div className="pad stack">
        <Writing resource={resource} set={set} />
        {resource.write && resource.lookup && (
          <Trial description={description} secret={secret} resource={resource} keys={peek.data?.keys ?? []} />
        )}
      </div>
    </section>
  )
}

// The word for the kind goes with it; one that the system has of its own stays.
function asKind(resource: Resource, kind: Resource['kind']): Resource {
  const word = (of: Resource['kind']) => recordKinds.find((k) => k.value === of)?.label ?? ''
  return { ...resource, kind, label: resource.label === word(resource.kind) ? word(kind) : resource.label }
}

export function Read({ peeked, label }: { peeked: Schemas['PeekedList']; label: string }) {
  const wrong = peeked.fields.filter((f) => f.problems > 0).length
  return (
    <div className="stack" style={{ margin: '8px 14px' }}>
      <div className={`note ${wrong > 0 ? 'ochre' : 'glaze'}`} role="status">
        {count(peeked.records)} {label} read{peeked.total ? ` of ${count(peeked.total)}` : ''}
        {peeked.goesOn ? ', and there are more' : ', and that is all'}.{' '}
        {wrong > 0 ? `${wrong} ${wrong === 1 ? 'field is' : 'fields are'} not as described; see below.` : 'All as described.'}
      </div>
      {peeked.unkept.length > 0 && <NotKept first={peeked.unkept} all={peeked.unkept.length} label={label} />}
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
      <Paging list={list} set={(to) => set({ ...resource, list: to })} ways={pagings} />
      <Changes list={list} change={change} />
    </div>
  )
}

/** How the list is asked for what changed since it was read last; without either it is read whole each time. */
function Changes({ list, change }: { list: Schemas['RestList']; change: (to: Partial<Schemas['RestList']>) => void }) {
  const order = list.newestFirst
  const turn = (on: boolean) => change({ newestFirst: on ? { path: '', parameter: 'sort', value: '' } : null })
  const part = (label: string, name: 'path' | 'format' | 'parameter' | 'value', unsaid?: string) =>
    order && (
      <Place
        label={label}
        width={160}
        unsaid={unsaid}
        at={order[name]}
        set={(at) => change({ newestFirst: { ...order, [name]: at ?? '' } })}
      />
    )
  return (
    <div className="row wrap" style={{ alignItems: 'end' }}>
      <Place label="changes are asked by" unsaid="not asked" at={list.changedSince} set={(at) => change({ changedSince: at })} />
      {list.changedSince && (
        <>
          <Place label="and told as" unsaid="ISO 8601" at={list.changedSinceFormat} set={(at) => change({ changedSinceFormat: at })} />
          <Place label="an entry changed at" unsaid="not said" at={list.changedAt} set={(at) => change({ changedAt: at })} />
          {list.changedAt && (
            <Place label="told there as" unsaid="ISO 8601" at={list.changedAtFormat} set={(at) => change({ changedAtFormat: at })} />
          )}
        </>
      )}
      {!list.changedSince && (
        <Checkbox label="what changed last can come first" checked={Boolean(order)} onChange={(e) => turn(e.currentTarget.checked)} />
      )}
      {!list.changedSince && (
        <>
          {part('an entry changed at', 'path')}
          {part('told as', 'format', 'ISO 8601')}
          {part('that order is asked by', 'parameter', 'there is no other')}
          {part('which says', 'value')}
        </>
      )}
    </div>
  )
}
