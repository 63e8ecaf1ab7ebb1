import { Button, Checkbox, Select } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import { api, type Schemas, take } from '../../shared/api'
import { Dialog } from '../../shared/Dialog'
import { count, plural } from '../../shared/format'
import { type Column, firstOf, LongTable } from '../../shared/LongTable'
import type { ViewOf } from '../../shared/listState'
import { queries, useRenew } from '../../shared/queries'
import { sayRefusal } from '../../shared/refusal'
import { Search } from '../../shared/Search'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'

type Row = Schemas['SyncedRow']
type Choices = Schemas['SyncedChoices']
type Lane = Choices['lanes'][number]

const short = (lane: Lane) => lane.label.toLowerCase()
const presets = [
  { value: 'everything', label: 'everything' },
  { value: 'priceAndStock', label: 'price and stock only' },
  { value: 'ordersOnly', label: 'nothing but orders' },
]

/** What is synced: for each item the lanes that take it; found, chosen and set in one act. */
export function SyncedPage() {
  const choices = useQuery(queries.syncedChoices())
  return <Loaded of={choices}>{(c) => <View choices={c} />}</Loaded>
}

function View({ choices }: { choices: Choices }) {
  const [state, show] = useView('/synced')
  const set = (change: typeof state) => {
    setChosen(new Set())
    show(change)
  }
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const [sets, setting] = useDisclosure(false)
  const filter = {
    search: state.search ?? null,
    category: state.category ?? null,
    location: state.location ?? null,
    store: state.store ?? null,
    keptOff: state.keptOff ?? null,
  }
  const query = Object.fromEntries(Object.entries(filter).filter(([, v]) => v !== null))
  const total = useQuery(firstOf(queries.synced(query))).data?.total ?? 0
  const flip = (row: Row) =>
    setChosen((had) => {
      const next = new Set(had)
      if (!next.delete(row.sourceKey)) next.add(row.sourceKey)
      return next
    })
  const acted = chosen.size > 0 ? chosen.size : total
  return (
    <div className="page page-fixed">
      <div className="page-head">
        <h1>What is synced</h1>
        <span className="dim">every item goes through every lane that is on, unless it is kept off</span>
      </div>
      <Stores choices={choices} />
      {sets && (
        <Setting
          choices={choices}
          filter={filter}
          sourceKeys={chosen.size > 0 ? [...chosen] : null}
          close={setting.close}
          done={() => setChosen(new Set())}
        />
      )}
      <div className="row wrap">
        <Filters choices={choices} state={state} set={set} />
        <span className="grow" />
        <Button variant="filled" disabled={acted === 0} onClick={setting.open}>
          {chosen.size > 0 ? `Set the ${count(chosen.size)} chosen` : `Set all ${count(total)} found`}
        </Button>
      </div>
      <div className="sheet" style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
        <LongTable<Row>
          label="Items"
          pages={queries.synced(query)}
          columns={columnsOf(choices, chosen, flip)}
          rowKey={(r) => r.sourceKey}
          chosen={state.row}
          open={(r) => show({ row: r.sourceKey })}
          mark={flip}
          empty={
            <Empty title="Nothing matches these filters">
              <button
                type="button"
                className="act"
                onClick={() => set({ search: undefined, category: undefined, location: undefined, store: undefined, keptOff: undefined })}
              >
                Show all items
              </button>
            </Empty>
          }
        />
      </div>
    </div>
  )
}

type State = ViewOf<'/synced'>

function Filters({ choices, state, set }: { choices: Choices; state: State; set: (change: State) => void }) {
  return (
    <>
      <Search label="SKU or name" w={140} text={state.search ?? ''} search={(search) => set({ search })} />
      <Select
        aria-label="Category"
        placeholder="any category"
        clearable
        searchable
        w={170}
        data={choices.categories}
        value={state.category ?? null}
        onChange={(v) => set({ category: v ?? undefined })}
      />
      <Select
        aria-label="Location"
        placeholder="any location"
        clearable
        w={140}
        data={choices.locations}
        value={state.location ?? null}
        onChange={(v) => set({ location: v ?? undefined })}
      />
      <Select
        aria-label="Store"
        placeholder="listed anywhere"
        clearable
        w={160}
        data={choices.stores.map(({ system: s }) => ({ value: s.id, label: s.name }))}
        value={state.store ?? null}
        onChange={(v) => set({ store: v ?? undefined })}
      />
      <Select
        aria-label="Kept off"
        placeholder="kept off or not"
        clearable
        w={170}
        data={choices.lanes.map((l) => ({ value: l.id, label: `off ${short(l)} to ${l.target.name}` }))}
        value={state.keptOff ?? null}
        onChange={(v) => set({ keptOff: v ?? undefined })}
      />
    </>
  )
}

const columnsOf = (choices: Choices, chosen: ReadonlySet<string>, flip: (row: Row) => void): Column<Row>[] => [
  {
    key: 'choose',
    head: 'Choose',
    hidden: true,
    width: '22px',
    cell: (r) => (
      <Checkbox
        aria-label={`Choose ${r.reference ?? r.sourceKey}`}
        checked={chosen.has(r.sourceKey)}
        onChange={() => flip(r)}
        onClick={(e) => e.stopPropagation()}
      />
    ),
  },
  {
    key: 'sku',
    head: 'SKU',
    width: '130px',
    cell: (r) => (
      <Link to="/items/$item" params={{ item: r.sourceKey }} className="mono">
        {r.reference ?? r.sourceKey}
      </Link>
    ),
  },
  { key: 'title', head: 'Item', width: 'minmax(0, 1.2fr)', cell: (r) => r.caption },
  { key: 'category', head: 'Category', width: 'minmax(0, 1fr)', cell: (r) => <span className="dim">{r.category}</span> },
  {
    key: 'kept',
    head: 'Kept off',
    width: 'minmax(0, 0.8fr)',
    cell: (r) => {
      const off = choices.lanes.filter((l) => r.keptOff.includes(l.id))
      return off.length === 0 ? (
        <span className="dim">nothing</span>
      ) : (
        <span className="row" style={{ gap: 6 }}>
          {off.map((l) => (
            <span key={l.id} className="row small" style={{ gap: 3 }}>
              <SystemMark system={l.target} /> {short(l)}
            </span>
          ))}
        </span>
      )
    },
  },
]

/** For each store what flows to it at all. */
function Stores({ choices }: { choices: Choices }) {
  const renew = useRenew()
  const preset = useMutation({
    mutationFn: (body: { store: string; preset: string }) => take(api.PUT('/api/synced/preset', { body })),
    onSuccess: () => {
      void renew('synced', 'lanes')
    },
    onError: sayRefusal,
  })
  return (
    <section
      className="sheet"
      aria-label="Stores"
      style={{ display: 'grid', gridTemplateColumns: `repeat(${choices.stores.length}, minmax(0, 1fr))` }}
    >
      {choices.stores.map(({ system: s, preset: stands }) => {
        const kept = choices.lanes.filter((l) => l.target.id === s.id).reduce((sum, l) => sum + l.keptOff, 0)
        return (
          <div key={s.id} className="pad stack" style={{ gap: 6 }}>
            <span className="row" style={{ gap: 6 }}>
              <SystemMark system={s} /> <span className="strong clip">{s.name}</span>
            </span>
            <Select
              aria-label={`What flows to ${s.name}`}
              allowDeselect={false}
              placeholder="some lanes"
              data={presets}
              value={stands}
              onChange={(v) => v && preset.mutate({ store: s.id, preset: v })}
            />
            <span className="dim small">{kept === 0 ? 'no item is kept off' : `${count(kept)} kept off`}</span>
          </div>
        )
      })}
    </section>
  )
}

function Setting(props: {
  choices: Choices
  filter: Schemas['SyncedFilter']
  sourceKeys: string[] | null
  close: () => void
  done: () => void
}) {
  const { choices, filter, sourceKeys, close } = props
  const renew = useRenew()
  const [lanes, setLanes] = useState<string[]>([])
  const [keepOff, setKeepOff] = useState(true)
  const body = { filter, sourceKeys, lanes, keepOff }
  const counted = useQuery({
    enabled: lanes.length > 0,
    ...queries.syncedCount({ ...body, countOnly: true }),
  })
  const act = useMutation({
    mutationFn: () => take(api.POST('/api/synced', { body: { ...body, countOnly: false } })),
    onSuccess: (done) => {
      notifications.show({
        color: 'var(--glaze)',
        message: `${plural(done.changes, 'setting')} of ${plural(done.items, 'item')} changed. The next run of each lane goes by it.`,
      })
      void renew('synced')
      props.done()
      close()
    },
    onError: sayRefusal,
  })
  return (
    <Dialog opened close={close} title={sourceKeys ? `Set the ${count(sourceKeys.length)} chosen items` : 'Set all found items'} wide>
      <div className="stack">
        <div className="row">
          <Button variant={keepOff ? 'filled' : 'default'} aria-pressed={keepOff} onClick={() => setKeepOff(true)}>
            Keep off
          </Button>
          <Button variant={keepOff ? 'default' : 'filled'} aria-pressed={!keepOff} onClick={() => setKeepOff(false)}>
            Let through
          </Button>
        </div>
        {choices.stores.map(({ system: s }) => (
          <div key={s.id} className="row">
            <span className="row" style={{ width: 230, gap: 6 }}>
              <SystemMark system={s} /> {s.name}
            </span>
            {choices.lanes
              .filter((l) => l.target.id === s.id)
              .map((l) => (
                <Checkbox
                  key={l.id}
                  label={short(l)}
                  aria-label={`${short(l)} to ${s.name}`}
                  checked={lanes.includes(l.id)}
                  onChange={() => setLanes((had) => (had.includes(l.id) ? had.filter((x) => x !== l.id) : [...had, l.id]))}
                />
              ))}
          </div>
        ))}
        <div className="row">
          <span className="grow dim" role="status">
            {lanes.length === 0
              ? 'Choose at least one lane.'
              : counted.data
                ? `${plural(counted.data.changes, 'setting')} of ${plural(counted.data.items, 'item')} would change.`
                : 'Counting…'}
          </span>
          <Button onClick={close}>Not now</Button>
          <Button
            variant="filled"
            disabled={!counted.data || counted.data.changes === 0}
            loading={act.isPending}
            onClick={() => act.mutate()}
          >
            {keepOff ? 'Keep off' : 'Let through'}
          </Button>
        </div>
      </div>
    </Dialog>
  )
}
