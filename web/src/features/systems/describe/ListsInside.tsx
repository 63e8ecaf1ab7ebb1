import { ActionIcon, Button, Select, Switch, TextInput } from '@mantine/core'
import { IconTrash } from '@tabler/icons-react'
import type { Schemas } from '../../../shared/api'
import { Failed } from '../../../shared/states'
import { useProposeInside } from './actions'
import { CallFields } from './CallFields'
import type { Description, Resource } from './description'
import { FieldTable } from './FieldTable'
import { atPath, Paging } from './Paging'
import { Place } from './Place'
import type { Secret } from './SignIn'
import { listRoles, pagings, rolesIn } from './words'

type Inside = Schemas['RestChildren']

/** The lists within each record: where each stands, what it means, and the fields of its entries. */
export function ListsInside(props: { description: Description; secret: Secret; resource: Resource; set: (resource: Resource) => void }) {
  const { resource, set } = props
  const lists = resource.children ?? []
  const put = (children: Inside[]) => set({ ...resource, children })
  const name = lists.length === 0 ? 'lines' : `list${lists.length + 1}`
  return (
    <>
      {lists.map((list, i) => (
        <OneInside
          // biome-ignore lint/suspicious/noArrayIndexKey: a list is told by its place while its name is being typed
          key={i}
          description={props.description}
          secret={props.secret}
          resource={resource}
          list={list}
          set={(to) => put(lists.map((l, at) => (at === i ? to : l)))}
          remove={() => put(lists.filter((_, at) => at !== i))}
        />
      ))}
      <div style={{ padding: '8px 14px' }}>
        <button type="button" className="act" onClick={() => put([...lists, { name, path: name, role: 'lines', fields: [] }])}>
          Add a list within each record
        </button>
      </div>
    </>
  )
}

function OneInside(props: {
  description: Description
  secret: Secret
  resource: Resource
  list: Inside
  set: (list: Inside) => void
  remove: () => void
}) {
  const { resource, list, set, remove } = props
  const propose = useProposeInside(props.description, props.secret, resource)
  const label = list.label ?? list.name
  const apart = list.list
  const ownPath = `${resource.list.path?.split('?')[0] ?? ''}/{key}/${list.path}`
  return (
    <section aria-label={`${label} within ${resource.label}`} style={{ borderTop: '1px solid var(--rule)' }}>
      <div className="pad stack">
        <div className="row wrap" style={{ alignItems: 'end' }}>
          <TextInput
            label="Within each record"
            size="xs"
            w={150}
            value={label}
            onChange={(e) => set({ ...list, label: e.currentTarget.value })}
          />
          <Select
            label="these are"
            size="xs"
            w={190}
            allowDeselect={false}
            data={listRoles}
            value={list.role ?? 'none'}
            onChange={(role) => set({ ...list, role: role as Schemas['ListRole'] })}
          />
          <Place
            label={apart ? 'and count as standing at' : 'the record keeps them at'}
            at={list.path}
            set={(at) => set({ ...list, path: at ?? '' })}
          />
          {!apart && <Place label="each of them keeps them at" unsaid="itself" at={list.each} set={(at) => set({ ...list, each: at })} />}
          <Place label="written as" unsaid="read only" at={list.writeAs} set={(at) => set({ ...list, writeAs: at })} />
          <span className="grow" />
          <ActionIcon variant="subtle" aria-label={`Leave ${label} out`} onClick={remove}>
            <IconTrash size={16} />
          </ActionIcon>
        </div>
        <div className="row">
          <Switch
            label={`${label} have a path of their own`}
            checked={Boolean(apart)}
            onChange={(e) => set({ ...list, list: e.currentTarget.checked ? { path: ownPath, records: '' } : null })}
          />
          <span className="dim small">one more request for each record that is read</span>
        </div>
        {apart && (
          <>
            <CallFields
              label={`Where ${label} are listed`}
              call={apart}
              ways={['GET']}
              set={(call) => set({ ...list, list: call })}
              hint="{key} stands for the record’s key"
            />
            <div className="row" style={{ alignItems: 'end' }}>
              <Place
                label="the reply keeps them at"
                unsaid="the reply itself"
                at={apart.records}
                set={(at) => set({ ...list, list: { ...apart, records: at ?? '' } })}
              />
              <Button
                size="xs"
                loading={propose.isPending}
                onClick={() => propose.mutate(list, { onSuccess: (proposal) => set(proposal.inside) })}
              >
                Propose from what it answers
              </Button>
            </div>
            {propose.isError && <Failed error={propose.error} />}
            {propose.data && (
              <div className="note glaze" role="status">
                {propose.data.entries} {propose.data.entries === 1 ? 'entry' : 'entries'} of {propose.data.records} records looked at.
              </div>
            )}
            <Paging list={apart} ways={pagings.filter((p) => p.value !== 'lastKey')} set={(to) => set({ ...list, list: to })} />
          </>
        )}
      </div>
      <FieldTable
        label={`Fields of ${label}`}
        kind={resource.kind}
        fields={list.fields}
        stands={atPath}
        roles={(now) => rolesIn(list.role ?? 'none', now)}
        evidence={{}}
        set={(fields) => set({ ...list, fields })}
      />
    </section>
  )
}
