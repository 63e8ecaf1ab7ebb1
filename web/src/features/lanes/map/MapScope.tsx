import { Button, NumberInput, SegmentedControl, Select, TextInput } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import type { LaneSummary, Schemas } from '../../../shared/api'
import { queries } from '../../../shared/queries'
import { Loaded } from '../../../shared/states'
import { type FieldMap, mapOf, useDraft } from '../draft'

type Filter = NonNullable<FieldMap['filters']>[number]
type Publish = NonNullable<FieldMap['publish']>
type MapChoices = Schemas['MapChoices']

/** Which records a map takes, and how it publishes them. */
export function MapScope() {
  const { lane } = useDraft()
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
