import { Checkbox, NumberInput, Switch, TagsInput, TextInput } from '@mantine/core'
import type { Schemas } from '../../../shared/api'
import { CallFields } from './CallFields'
import type { Resource } from './description'
import { Place } from './Place'

/** How single records are read, changed, created and found. */
export function Writing({ resource, set }: { resource: Resource; set: (resource: Resource) => void }) {
  const { lookup, write, create, find } = resource
  const one = `${resource.list.path?.split('?')[0] ?? ''}/{key}`
  return (
    <>
      <Part
        label="Records are read by key"
        why="so that what was written can be read back"
        on={Boolean(lookup)}
        turn={(on) => set({ ...resource, lookup: on ? { path: one, records: '' } : null })}
      >
        {lookup && <Ask label="One record" ask={lookup} set={(ask) => set({ ...resource, lookup: ask })} />}
      </Part>
      <Part
        label="Records can be changed"
        why="the fields that are written have a name under “Written as”"
        on={Boolean(write)}
        turn={(on) => set({ ...resource, write: on ? { path: one, method: 'PATCH' } : null })}
      >
        {write && <Change write={write} set={(to) => set({ ...resource, write: to })} />}
      </Part>
      <Part
        label="Records can be created"
        why="with a key that makes nothing twice, or a way to find what was made"
        on={Boolean(create)}
        turn={(on) => set({ ...resource, create: on ? { path: resource.list.path ?? '', method: 'POST', resultKey: resource.key } : null })}
      >
        {create && <Create create={create} set={(to) => set({ ...resource, create: to })} />}
      </Part>
      <Part
        label="Records are found by what stands in a field"
        why="asked before anything is created"
        on={Boolean(find)}
        turn={(on) =>
          set({
            ...resource,
            find: on ? { field: fieldForFinding(resource), path: resource.list.path ?? '', parameter: 'sku', size: 1 } : null,
          })
        }
      >
        {find && (
          <>
            <TextInput
              label="Field"
              size="xs"
              w={160}
              value={find.field}
              onChange={(e) => set({ ...resource, find: { ...find, field: e.currentTarget.value } })}
            />
            <Ask label="Those found" ask={find} set={(ask) => set({ ...resource, find: ask })} />
          </>
        )}
      </Part>
    </>
  )
}

const fieldForFinding = (resource: Resource) => (resource.fields.find((f) => f.role === 'sku') ?? resource.fields[0])?.name ?? ''

function Part(props: { label: string; why: string; on: boolean; turn: (on: boolean) => void; children: React.ReactNode }) {
  return (
    <div className="stack" style={{ gap: 8 }}>
      <div className="row">
        <Switch label={props.label} checked={props.on} onChange={(e) => props.turn(e.currentTarget.checked)} />
        <span className="dim small">{props.why}</span>
      </div>
      {props.on && (
        <div className="stack" style={{ gap: 8, paddingLeft: 48 }}>
          {props.children}
        </div>
      )}
    </div>
  )
}

function Ask<A extends Schemas['RestLookup']>({ label, ask, set }: { label: string; ask: A; set: (ask: A) => void }) {
  return (
    <>
      <CallFields label={label} call={ask} ways={['GET', 'graph', 'POST']} set={set} hint="{key} stands for the record’s key" />
      <div className="row wrap" style={{ alignItems: 'end' }}>
        <Place
          label="keys are asked by"
          width={180}
          unsaid="{key} in the path"
          at={ask.parameter}
          set={(at) => set({ ...ask, parameter: at })}
        />
        {ask.parameter && (
          <NumberInput
            label="at most at once"
            size="xs"
            w={110}
            hideControls
            min={1}
            value={ask.size ?? 50}
            onChange={(size) => set({ ...ask, size: Number(size) || 1 })}
          />
        )}
        <Place
          label="the reply keeps it at"
          width={180}
          unsaid={ask.records === '' ? 'the reply itself' : 'where the list does'}
          at={ask.records}
          set={(at) => set({ ...ask, records: at })}
        />
        <Checkbox
          label="the reply itself"
          checked={ask.records === ''}
          onChange={(e) => set({ ...ask, records: e.currentTarget.checked ? '' : null })}
        />
      </div>
    </>
  )
}

function Change({ write, set }: { write: Schemas['RestWrite']; set: (write: Schemas['RestWrite']) => void }) {
  return (
    <>
      <CallFields
        label="A change"
        call={write}
        ways={['PATCH', 'PUT', 'POST', 'graph']}
        set={set}
        hint="{key} stands for the record’s key"
      />
      <div className="row wrap">
        <Place
          label="the body keeps the record at"
          width={200}
          unsaid="the body itself"
          at={write.record}
          set={(at) => set({ ...write, record: at })}
        />
        <Place
          label="the record’s key in it"
          width={160}
          unsaid="in the path only"
          at={write.key}
          set={(at) => set({ ...write, key: at })}
        />
        <IdempotencyHeader call={write} set={set} />
        <Checkbox
          label="only as it was read (If-Match)"
          checked={write.ifMatch ?? false}
          onChange={(e) => set({ ...write, ifMatch: e.currentTarget.checked })}
        />
      </div>
      <Later call={write} set={set} />
    </>
  )
}

function Create({ create, set }: { create: Schemas['RestCreate']; set: (create: Schemas['RestCreate']) => void }) {
  return (
    <>
      <CallFields label="A creation" call={create} ways={['POST', 'PUT', 'graph']} set={set} />
      <div className="row wrap" style={{ alignItems: 'end' }}>
        <Place
          label="the body keeps the record at"
          width={200}
          unsaid="the body itself"
          at={create.record}
          set={(at) => set({ ...create, record: at })}
        />
        <Place label="the new key is at" width={160} at={create.resultKey} set={(at) => set({ ...create, resultKey: at })} />
        <IdempotencyHeader call={create} set={set} />
        <Checkbox
          label="the new key ends the Location header"
          checked={create.keyInLocation ?? false}
          onChange={(e) => set({ ...create, keyInLocation: e.currentTarget.checked })}
        />
        {create.idempotencyHeader && (
          <Checkbox
            label="it makes nothing twice of a key that it has seen"
            checked={create.honoursKeys ?? true}
            onChange={(e) => set({ ...create, honoursKeys: e.currentTarget.checked })}
          />
        )}
      </div>
      <Later call={create} set={set} />
    </>
  )
}

function IdempotencyHeader<C extends { idempotencyHeader?: string | null }>({ call, set }: { call: C; set: (call: C) => void }) {
  return (
    <Place
      label="header with the idempotency key"
      width={210}
      unsaid="it knows none"
      at={call.idempotencyHeader}
      set={(at) => set({ ...call, idempotencyHeader: at })}
    />
  )
}

/** A change that the system only begins, and how it is asked whether it is done. */
function Later<C extends { later?: Schemas['RestLater'] | null }>({ call, set }: { call: C; set: (call: C) => void }) {
  const { later } = call
  const change = (to: Partial<Schemas['RestLater']>) => set({ ...call, later: { ...later, ...to } })
  return (
    <div className="row wrap" style={{ alignItems: 'end' }}>
      <Checkbox
        label="it is only begun, and done later (202)"
        checked={Boolean(later)}
        onChange={(e) => set({ ...call, later: e.currentTarget.checked ? {} : null })}
      />
      {later && (
        <>
          <Place label="what names it is at" unsaid="the Location header" at={later.at} set={(at) => change({ at })} />
          <Place label="it is asked for at" unsaid="the address that names it" at={later.path} set={(path) => change({ path })} />
          <Place label="how far it is stands at" unsaid="the status, 202" at={later.state} set={(state) => change({ state })} />
          {later.state && (
            <>
              <TagsInput label="words for done" size="xs" w={160} value={later.done ?? []} onChange={(done) => change({ done })} />
              <TagsInput label="words for failed" size="xs" w={160} value={later.failed ?? []} onChange={(failed) => change({ failed })} />
            </>
          )}
          <NumberInput
            label="asked for, seconds"
            size="xs"
            w={120}
            hideControls
            min={1}
            max={3600}
            value={later.withinSeconds ?? 120}
            onChange={(seconds) => change({ withinSeconds: Number(seconds) || 120 })}
          />
        </>
      )}
    </div>
  )
}
