import { Button, NumberInput, SegmentedControl, Select, Switch, TextInput } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link, useNavigate } from '@tanstack/react-router'
import { useState } from 'react'
import { api, type LaneSummary, type Schemas, take } from '../../shared/api'
import { queries, useRenew } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Failed, Loaded } from '../../shared/states'
import { type FieldMap, mapOf, useDraft } from './draft'
import { NewLane } from './NewLane'

type Filter = NonNullable<FieldMap['filters']>[number]
type Publish = NonNullable<FieldMap['publish']>
type MapChoices = Schemas['MapChoices']

/** What the lane takes, whether it is on, and for items how it publishes. */
export function ScopeStep() {
  const { lane, document } = useDraft()
  return (
    <div className="side scope">
      <Lane key={lane.id} lane={lane} />
      {document.kind === 'customer' && <Buyers />}
      {mapOf(document) && document.kind !== 'order' && <Items lane={lane} />}
    </div>
  )
}

function Lane({ lane }: { lane: LaneSummary }) {
  const renew = useRenew()
  const [start, setStart] = useState(lane.skuStartsWith ?? '')
  const [published, setPublished] = useState(lane.publishedOnly)
  const navigate = useNavigate()
  const [copies, copying] = useDisclosure(false)
  const named = lane.name === lane.work.label ? '' : lane.name
  const [name, setName] = useState(named)
  const path = { params: { path: { id: lane.id } } }
  const said = (message: string) => () => {
    void renew('lanes')
    notifications.show({ color: 'var(--glaze)', message })
  }
  const save = useMutation({
    mutationFn: () => take(api.PUT('/api/lanes/{id}/scope', { ...path, body: { skuStartsWith: start || null, publishedOnly: published } })),
    onSuccess: said('Saved. The next preview uses this scope.'),
  })
  const turn = useMutation({
    mutationFn: (off: boolean) => take(api.PUT('/api/lanes/{id}/off', { ...path, body: { off } })),
    onSuccess: said(lane.off ? 'The lane is on.' : 'The lane is off: nothing is sent until it is on again.'),
  })
  const rename = useMutation({
    mutationFn: (to: string) => take(api.PUT('/api/lanes/{id}/name', { ...path, body: { name: to || null } })),
    onSuccess: said('The lane has its name.'),
  })
  const remove = useMutation({
    mutationFn: () => take(api.DELETE('/api/lanes/{id}', path)),
    onSuccess: async () => {
      await navigate({ to: '/lanes' })
      void renew()
      notifications.show({ color: 'var(--glaze)', message: `${lane.name} is removed. It can be brought back below the list.` })
    },
  })
  return (
    <section className="sheet pad stack" aria-label="Scope">
      <div className="field-grid">
        <span>Record kind</span>
        <span className="strong">{lane.work.label}</span>
        <label htmlFor="lane-name">Called</label>
        <TextInput
          id="lane-name"
          w={240}
          maxLength={60}
          placeholder={lane.work.label}
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
          onBlur={() => name.trim() !== named && rename.mutate(name.trim())}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
        <span>From</span>
        <span className="row">
          <SystemMark system={lane.source} /> {lane.source.name}
        </span>
        <span>To</span>
        <span className="row">
          <SystemMark system={lane.target} /> {lane.target.name}
        </span>
        <span>The lane is</span>
        <Switch
          label={lane.off ? 'off: previews show what it would do, nothing is sent' : 'on'}
          checked={!lane.off}
          onChange={() => turn.mutate(!lane.off)}
        />
        <label htmlFor="sku">Only SKUs that start with</label>
        <TextInput id="sku" placeholder="all SKUs" value={start} onChange={(e) => setStart(e.currentTarget.value)} w={240} />
        <span>Listings</span>
        <Switch label="only those that buyers can see" checked={published} onChange={(e) => setPublished(e.currentTarget.checked)} />
        <span>Single items</span>
        <span>
          <Link to="/synced" search={{ keptOff: lane.id }} className="act">
            What is synced
          </Link>{' '}
          <span className="dim">keeps single items and variants off this lane</span>
        </span>
      </div>
      {remove.isError && <Failed error={remove.error} />}
      {save.isError && <Failed error={save.error} />}
      {turn.isError && <Failed error={turn.error} />}
      {rename.isError && <Failed error={rename.error} />}
      <div className="row">
        <Button
          disabled={start === (lane.skuStartsWith ?? '') && published === lane.publishedOnly}
          loading={save.isPending}
          onClick={() => save.mutate()}
        >
          Save the scope
        </Button>
        <span className="grow" />
        <Button onClick={copying.open}>Make another like it</Button>
        <Button loading={remove.isPending} onClick={() => remove.mutate()}>
          Remove it
        </Button>
      </div>
      {copies && (
        <NewLane opened like={lane} wanted={{ kind: lane.kind, source: lane.source.id, target: lane.target.id }} close={copying.close} />
      )}
    </section>
  )
}

/** Which customers are written. */
function Buyers() {
  const { lane, document, set } = useDraft()
  if (document.kind !== 'customer') return null
  return (
    <section className="sheet pad row" aria-label="Which customers">
      <span>Takes of {lane.source.name}</span>
      <SegmentedControl
        aria-label="Which customers"
        value={document.taken ?? 'all'}
        onChange={(taken) => set({ ...document, taken: taken as Schemas['CustomersTaken'] })}
        data={[
          { value: 'all', label: 'all customers' },
          { value: 'buyers', label: 'those who bought something' },
        ]}
      />
    </section>
  )
}

function Items({ lane }: { lane: LaneSummary }) {
  const choices = useQuery(queries.mapChoices(lane.id))
  return (
    <Loaded of={choices}>
      {(c) => (
        <>
          <div className="stack" style={{ gap: 14 }}>
            <Filters lane={lane} choices={c} />
            <Publishing choices={c} />
          </div>
        </>
      )}
    </Loaded>
  )
}

export const tests: Record<Filter['is'], string> = {
  equals: 'is',
  notEquals: 'is not',
  empty: 'is empty',
  notEmpty: 'is not empty',
  greater: 'is more, or later, than',
  less: 'is less, or earlier, than',
  contains: 'contains',
  oneOf: 'is one of (a; b; c)',
  under: 'is, or is under,',
}

/** What Narbit knows of an item beyond its own fields. */
const beyond = [
  { value: '@available', label: 'Available, pcs' },
  { value: '@changed', label: 'Changed, as Narbit saw it' },
]

function Filters({ lane, choices }: { lane: LaneSummary; choices: MapChoices }) {
  const { document, setMap, faults } = useDraft()
  const filters = mapOf(document)?.filters ?? []
  const set = (change: (all: Filter[]) => Filter[]) => setMap((m) => ({ ...m, filters: change(m.filters ?? []) }))
  const amend = (i: number, change: Partial<Filter>) => set((all) => all.map((f, j) => (i === j ? { ...f, ...change } : f)))
  const category = choices.source.find((f) => f.role === 'category')?.name
  return (
    <section className="sheet pad stack" aria-labelledby="filters">
      <h2 id="filters">
        Takes {lane.work.noun.many} of {lane.source.name}
      </h2>
      {filters.length === 0 && <span className="dim">All of them.</span>}
      {filters.map((f, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: filters have no other name than their place
        <div key={i} className="row">
          <span className="dim" style={{ width: 44 }}>
            {i === 0 ? 'whose' : 'and'}
          </span>
          <Select
            aria-label={`Filter ${i + 1} field`}
            searchable
            w={190}
            allowDeselect={false}
            data={[...beyond, ...choices.source.map((s) => ({ value: s.name, label: s.label }))]}
            value={f.field}
            error={faults.some((x) => x.path.startsWith(`filters[${i}]`))}
            onChange={(field) => field && amend(i, { field, is: field === category ? 'under' : field.startsWith('@') ? 'greater' : f.is })}
          />
          <Select
            aria-label={`Filter ${i + 1} test`}
            w={190}
            allowDeselect={false}
            data={Object.entries(tests).map(([value, label]) => ({ value, label }))}
            value={f.is}
            onChange={(is) => amend(i, { is: is as Filter['is'] })}
          />
          {f.is === 'empty' || f.is === 'notEmpty' ? (
            <span className="grow" />
          ) : f.field === category ? (
            <Select
              aria-label={`Filter ${i + 1} value`}
              className="grow"
              searchable
              data={branches(choices.categories)}
              value={f.value ?? null}
              onChange={(value) => amend(i, { value })}
            />
          ) : (
            <TextInput
              aria-label={`Filter ${i + 1} value`}
              className="grow"
              type={f.field === '@changed' ? 'date' : undefined}
              value={f.value ?? ''}
              onChange={(e) => amend(i, { value: e.currentTarget.value })}
            />
          )}
          <Button size="compact-xs" aria-label={`Remove filter ${i + 1}`} onClick={() => set((all) => all.filter((_, j) => j !== i))}>
            ✕
          </Button>
        </div>
      ))}
      <div>
        <Button
          size="xs"
          onClick={() =>
            set((all) => [
              ...all,
              { field: category ?? (choices.source[0]?.name as string), is: category ? 'under' : 'equals', value: null },
            ])
          }
        >
          Add a filter
        </Button>
      </div>
    </section>
  )
}

/** Every branch of a tree of categories, its trunks included. */
function branches(categories: string[]) {
  const all = new Set<string>()
  for (const c of categories) {
    const parts = c.split('›').map((p) => p.trim())
    parts.forEach((_, i) => {
      all.add(parts.slice(0, i + 1).join(' › '))
    })
  }
  return [...all].sort()
}

function Publishing({ choices }: { choices: MapChoices }) {
  const { document, setMap, faults } = useDraft()
  const publish = mapOf(document)?.publish ?? {}
  const set = (change: Partial<Publish>) => setMap((m) => ({ ...m, publish: { ...m.publish, ...change } }))
  const withdrawals = [
    { value: 'leave', label: 'stays' },
    { value: 'hide', label: 'is hidden' },
    { value: 'end', label: 'is ended', disabled: !choices.ends },
  ]
  const when = [
    ['whenGone', 'Item gone here: its listing'],
    ['whenHidden', 'Item hidden here: its listing'],
    ['whenOutOfStock', 'Nothing available: its listing'],
  ] as const
  return (
    <section className="sheet pad stack" aria-labelledby="publishes">
      <h2 id="publishes">How it publishes</h2>
      {!choices.creates && <span className="dim">The target’s description says nothing of how records are created, so nothing is.</span>}
      <div className="field-grid" style={{ gridTemplateColumns: '210px minmax(0, 1fr)' }}>
        <span>Items without a listing</span>
        <Select
          aria-label="New items"
          disabled={!choices.creates}
          allowDeselect={false}
          value={publish.new ?? 'chosen'}
          onChange={(v) => set({ new: v as Publish['new'] })}
          data={[
            { value: 'chosen', label: 'wait for the pair desk' },
            { value: 'variants', label: 'wait, but variants follow' },
            { value: 'all', label: 'are all created' },
          ]}
        />
        <span>New variants there</span>
        <SegmentedControl
          aria-label="New variants there"
          disabled={!choices.createsHere}
          value={publish.newThere ?? 'wait'}
          onChange={(v) => set({ newThere: v as Publish['newThere'] })}
          data={[
            { value: 'wait', label: 'wait' },
            { value: 'follow', label: 'are created here' },
          ]}
          style={{ justifySelf: 'start' }}
        />
        <span>New listings are</span>
        <SegmentedControl
          aria-label="New listings are"
          value={publish.live ? 'live' : 'draft'}
          onChange={(v) => set({ live: v === 'live' })}
          data={[
            { value: 'draft', label: 'drafts' },
            { value: 'live', label: 'live at once' },
          ]}
          style={{ justifySelf: 'start' }}
        />
        <label htmlFor="portion">Created in one run, at most</label>
        <NumberInput
          id="portion"
          w={120}
          min={1}
          placeholder="all"
          suffix=" items"
          thousandSeparator=","
          error={faults.some((f) => f.path === 'publish.portion')}
          value={publish.portion ?? ''}
          onChange={(v) => set({ portion: v === '' ? null : Number(v) })}
        />
        {when.map(([key, text]) => (
          <div key={key} style={{ display: 'contents' }}>
            <span>{text}</span>
            <SegmentedControl
              aria-label={text}
              value={publish[key] ?? 'leave'}
              onChange={(v) => set({ [key]: v })}
              data={withdrawals}
              style={{ justifySelf: 'start' }}
            />
          </div>
        ))}
      </div>
    </section>
  )
}
