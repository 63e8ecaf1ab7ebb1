import { Checkbox, NumberInput, Switch, TextInput } from '@mantine/core'
import type { Schemas } from '../../../shared/api'
import { CallFields } from './CallFields'
import type { Resource } from './description'

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
        <TextInput
          label="keys are asked by"
          size="xs"
          w={180}
          placeholder="{key} in the path"
          classNames={{ input: 'mono' }}
          value={ask.parameter ?? ''}
          onChange={(e) => set({ ...ask, parameter: e.currentTarget.value || null })}
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
        <TextInput
          label="the reply keeps it at"
          size="xs"
          w={180}
          placeholder={ask.records === '' ? 'the reply itself' : 'where the list does'}
          classNames={{ input: 'mono' }}
          value={ask.records ?? ''}
          onChange={(e) => set({ ...ask, records: e.currentTarget.value || null })}
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
        <TextInput
          label="the body keeps the record at"
          size="xs"
          w={200}
          placeholder="the body itself"
          classNames={{ input: 'mono' }}
          value={write.record ?? ''}
          onChange={(e) => set({ ...write, record: e.currentTarget.value || null })}
        />
        <TextInput
          label="the record’s key in it"
          size="xs"
          w={160}
          placeholder="in the path only"
          classNames={{ input: 'mono' }}
          value={write.key ?? ''}
          onChange={(e) => set({ ...write, key: e.currentTarget.value || null })}
        />
        <IdempotencyHeader call={write} set={set} />
      </div>
    </>
  )
}

function Create({ create, set }: { create: Schemas['RestCreate']; set: (create: Schemas['RestCreate']) => void }) {
  return (
    <>
      <CallFields label="A creation" call={create} ways={['POST', 'PUT', 'graph']} set={set} />
      <div className="row wrap" style={{ alignItems: 'end' }}>
        <TextInput
          label="the body keeps the record at"
          size="xs"
          w={200}
          placeholder="the body itself"
          classNames={{ input: 'mono' }}
          value={create.record ?? ''}
          onChange={(e) => set({ ...create, record: e.currentTarget.value || null })}
        />
        <TextInput
          label="the new key is at"
          size="xs"
          w={160}
          classNames={{ input: 'mono' }}
          value={create.resultKey ?? ''}
          onChange={(e) => set({ ...create, resultKey: e.currentTarget.value || null })}
        />
        <IdempotencyHeader call={create} set={set} />
        <Checkbox
          label="the new key ends the Location header"
          checked={create.keyInLocation ?? false}
          onChange={(e) => set({ ...create, keyInLocation: e.currentTarget.checked })}
        />
      </div>
    </>
  )
}

function IdempotencyHeader<C extends { idempotencyHeader?: string | null }>({ call, set }: { call: C; set: (call: C) => void }) {
  return (
    <TextInput
      label="header with the idempotency key"
      size="xs"
      w={210}
      placeholder="it knows none"
      classNames={{ input: 'mono' }}
      value={call.idempotencyHeader ?? ''}
      onChange={(e) => set({ ...call, idempotencyHeader: e.currentTarget.value || null })}
    />
  )
}
