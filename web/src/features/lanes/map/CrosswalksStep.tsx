import { Autocomplete, Button, SegmentedControl, Textarea, TextInput } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useRef, useState } from 'react'
import type { Schemas } from '../../../shared/api'
import { Chips } from '../../../shared/Chips'
import { Dialog } from '../../../shared/Dialog'
import { count, plural } from '../../../shared/format'
import type { ViewOf } from '../../../shared/listState'
import { queries, trials } from '../../../shared/queries'
import { Search } from '../../../shared/Search'
import { SystemMark } from '../../../shared/SystemMark'
import { Empty, Loaded } from '../../../shared/states'
import { useView } from '../../../shared/useView'
import { type Crosswalk, mapOf, useDraft } from '../draft'
import { withCrosswalk } from './map'

type View = Schemas['CrosswalkView']
type Entry = NonNullable<Crosswalk['entries']>[number]

/** The tables that translate one side's codes to the other's: codes without an entry first, with how many records wait for each. */
export function CrosswalksStep() {
  const { lane, document } = useDraft()
  const [state, set] = useView('/lanes/$lane/crosswalks')
  const all = mapOf(document)?.crosswalks ?? []
  const chosen = all.find((c) => c.name === state.tab) ?? all[0]
  if (!chosen)
    return (
      <div className="sheet">
        <Empty title="No crosswalk yet">
          A crosswalk begins with a step “translate by a crosswalk” in the field map, or with a suggestion that needs one.
          <Link to="/lanes/$lane/map" params={{ lane: lane.id }} search={{}} className="act">
            To the field map
          </Link>
        </Empty>
      </div>
    )
  return (
    <div className="split" style={{ gridTemplateColumns: '230px minmax(0, 1fr)' }}>
      <section className="sheet side" aria-label="Crosswalks">
        {all.map((c) => (
          <Name key={c.name} crosswalk={c} chosen={c === chosen} choose={() => set({ tab: c.name, show: undefined, search: undefined })} />
        ))}
      </section>
      <Table key={chosen.name} crosswalk={chosen} state={state} go={set} />
    </div>
  )
}

function useCodes(table: string) {
  const { lane, tried, document } = useDraft()
  const known = (mapOf(tried)?.crosswalks ?? []).some((c) => c.name === table)
  return useQuery({
    ...trials.codes(lane.id, { map: (known ? mapOf(tried) : mapOf(document)) ?? {}, table }, lane.comparedAt),
    placeholderData: keepPreviousData,
  })
}

function Name({ crosswalk, chosen, choose }: { crosswalk: Crosswalk; chosen: boolean; choose: () => void }) {
  const codes = useCodes(crosswalk.name)
  return (
    <button type="button" className="plain-button line chooses" aria-pressed={chosen} onClick={choose} style={{ gap: 2 }}>
      <span className="strong">{crosswalk.name}</span>
      <span className="small dim">
        {plural((crosswalk.entries ?? []).length, 'entry', 'entries')}
        {codes.data && codes.data.unlisted > 0 && <span className="warns"> · {count(codes.data.unlisted)} without</span>}
      </span>
    </button>
  )
}

function Table({
  crosswalk,
  state,
  go,
}: {
  crosswalk: Crosswalk
  state: ViewOf<'/lanes/$lane/crosswalks'>
  go: (change: ViewOf<'/lanes/$lane/crosswalks'>) => void
}) {
  const codes = useCodes(crosswalk.name)
  return <Loaded of={codes}>{(view) => <Codes crosswalk={crosswalk} view={view} state={state} go={go} />}</Loaded>
}

function Codes(props: {
  crosswalk: Crosswalk
  view: View
  state: ViewOf<'/lanes/$lane/crosswalks'>
  go: (change: ViewOf<'/lanes/$lane/crosswalks'>) => void
}) {
  const { crosswalk, view, state, go } = props
  const { lane, setMap, document } = useDraft()
  const choices = useQuery(queries.mapChoices(lane.id))
  const [pastes, pasting] = useDisclosure(false)
  const entries = crosswalk.entries ?? []
  const set = (change: Partial<Crosswalk>) => setMap((m) => withCrosswalk(m, { ...crosswalk, ...change }))
  const same = (a: string, b: string) => a.toLowerCase() === b.toLowerCase()
  const becomes = (code: string) => entries.find((e) => same(e.from, code))?.to
  const enter = (some: Entry[]) =>
    set({ entries: [...entries.filter((e) => !some.some((s) => same(s.from, e.from))), ...some.filter((s) => s.to.trim() !== '')] })

  // A code keeps its place while it is given an entry.
  const order = useRef<string[]>([])
  if (order.current.length !== view.here.length) order.current = view.here.map((h) => h.code)
  const open = view.here.filter((h) => becomes(h.code) === undefined)
  const suggested = open.filter((h) => h.suggested)
  const show = state.show ?? 'all'
  const wanted = (state.search ?? '').toLowerCase()
  const rows = order.current
    .flatMap((code) => view.here.filter((h) => h.code === code))
    .filter((h) => show === 'all' || (show === 'open' ? h.to === null : h.to !== null))
    .filter((h) => wanted === '' || `${h.code} ${becomes(h.code) ?? ''}`.toLowerCase().includes(wanted))
  const there = view.there.map((c) => c.code)
  const uses = (code: string) => view.there.find((c) => same(c.code, code))?.records ?? 0
  const source = choices.data?.source.find((f) => f.name === view.sourceField)?.label ?? view.sourceField
  const target = choices.data?.target.find((t) => t.field.name === view.targetField)?.field.label ?? view.targetField
  const used = (mapOf(document)?.fields ?? []).some((f) => f.steps?.some((s) => s.do === 'crosswalk' && s.with?.table === crosswalk.name))
  const depth = (code: string) => (crosswalk.separator ? code.split(crosswalk.separator).length - 1 : 0)
  return (
    <section className="sheet side" aria-label={`Crosswalk ${crosswalk.name}`}>
      {pastes && <Paste close={pasting.close} take={enter} />}
      <div className="pad stack">
        <div className="row wrap">
          <Chips
            label="Codes"
            slim
            chosen={show}
            choose={(k) => go({ show: k === 'all' ? undefined : k })}
            chips={[
              { key: 'all', text: 'All', count: view.here.length, always: true },
              { key: 'open', text: 'Without an entry', count: open.length },
              { key: 'done', text: 'With one', count: view.here.length - open.length },
            ]}
          />
          <span className="grow" />
          <Search slim label="Code" text={state.search ?? ''} search={(search) => go({ search })} />
          <Button
            size="xs"
            onClick={() => {
              void navigator.clipboard.writeText(view.here.map((h) => `${h.code}\t${becomes(h.code) ?? ''}`).join('\n'))
              notifications.show({ color: 'var(--glaze)', message: `${plural(view.here.length, 'code')} copied, for a spreadsheet.` })
            }}
          >
            Copy
          </Button>
          <Button size="xs" onClick={pasting.open}>
            Paste
          </Button>
          {suggested.length > 0 && (
            <Button size="xs" variant="filled" onClick={() => enter(suggested.map((h) => ({ from: h.code, to: h.suggested as string })))}>
              Accept {plural(suggested.length, 'suggestion')}
            </Button>
          )}
        </div>
        <div className="row wrap">
          <span>A code without an entry</span>
          <SegmentedControl
            aria-label="A code without an entry"
            value={crosswalk.unlisted ?? 'hold'}
            onChange={(v) => set({ unlisted: v as Crosswalk['unlisted'] })}
            data={[
              { value: 'hold', label: 'holds the record' },
              { value: 'keep', label: 'is passed on as it is' },
              { value: 'default', label: 'becomes' },
            ]}
          />
          {crosswalk.unlisted === 'default' && (
            <Autocomplete
              aria-label="Default code"
              w={150}
              size="xs"
              data={there}
              value={crosswalk.default ?? ''}
              onChange={(v) => set({ default: v })}
            />
          )}
          <span className="grow" />
          <label htmlFor="separator" className="dim small">
            levels of a tree are parted by
          </label>
          <TextInput
            id="separator"
            w={60}
            size="xs"
            placeholder="none"
            value={crosswalk.separator ?? ''}
            onChange={(e) => set({ separator: e.currentTarget.value || null })}
          />
        </div>
        {!used && (
          <span className="small warns">
            No chain uses it yet: a step “translate by a crosswalk” in the field map gives it codes of both sides.
          </span>
        )}
        {view.faults.map((f) => (
          <span key={f.path + f.message} className={`small ${f.severity === 'refuse' ? 'minus' : 'warns'}`} role="alert">
            {f.severity === 'refuse' ? '✕' : '!'} {f.message}
          </span>
        ))}
      </div>
      {rows.length === 0 && <Empty title={view.here.length === 0 ? 'No codes yet' : 'Nothing matches this filter'} />}
      {rows.length > 0 && (
        <table className="plain-table">
          <thead>
            <tr>
              <th>
                <span className="row" style={{ gap: 6 }}>
                  <SystemMark system={lane.source} /> {source}
                </span>
              </th>
              <th className="num">records</th>
              <th style={{ width: '42%' }}>
                <span className="row" style={{ gap: 6 }}>
                  <SystemMark system={lane.target} /> {target}
                </span>
              </th>
              <th className="num">records</th>
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, 300).map((h) => {
              const to = becomes(h.code)
              return (
                <tr key={h.code}>
                  <td style={{ paddingLeft: 10 + depth(h.code) * 14 }}>
                    {h.code} {to === undefined && <span className="tag ochre">{h.records > 0 ? 'waits' : 'unused'}</span>}
                  </td>
                  <td className="num">
                    <Link
                      to="/systems/$system"
                      params={{ system: lane.source.id }}
                      search={{ kind: 'item', search: h.code }}
                      aria-label={`${count(h.records)} records with ${h.code}`}
                    >
                      {count(h.records)}
                    </Link>
                  </td>
                  <td>
                    <span className="row" style={{ gap: 6 }}>
                      <Autocomplete
                        aria-label={`${h.code} becomes`}
                        size="xs"
                        className="grow"
                        data={there}
                        placeholder="nothing"
                        value={to ?? ''}
                        onChange={(v) => enter([{ from: h.code, to: v }])}
                      />
                      {to === undefined && h.suggested && (
                        <button
                          type="button"
                          className="act small"
                          title={h.why ?? undefined}
                          onClick={() => enter([{ from: h.code, to: h.suggested as string }])}
                        >
                          {h.suggested}?
                        </button>
                      )}
                    </span>
                  </td>
                  <td className="num dim">{to ? count(uses(to)) : ''}</td>
                </tr>
              )
            })}
          </tbody>
        </table>
      )}
      {rows.length > 300 && <div className="line dim small">The first 300 of {count(rows.length)}; search for the others.</div>}
    </section>
  )
}

function Paste({ close, take: taken }: { close: () => void; take: (entries: Entry[]) => void }) {
  const [text, setText] = useState('')
  const lines = text.split(/\r?\n/).filter((l) => l.trim() !== '')
  const entries = lines
    .map((l) => l.split(/\t|;/).map((p) => p.trim()))
    .filter((p) => p.length >= 2 && p[0] && p[1])
    .map(([from, to]) => ({ from: from as string, to: to as string }))
  return (
    <Dialog opened close={close} title="Paste entries" wide>
      <div className="stack">
        <Textarea
          aria-label="Two columns from a spreadsheet"
          placeholder="Two columns from a spreadsheet: the code here, the code there"
          autosize
          minRows={8}
          maxRows={16}
          data-autofocus
          value={text}
          onChange={(e) => setText(e.currentTarget.value)}
        />
        <div className="row">
          <span className="grow dim small">
            {plural(entries.length, 'entry', 'entries')}
            {lines.length > entries.length && `; ${plural(lines.length - entries.length, 'line')} without two columns left out`}
          </span>
          <Button
            variant="filled"
            disabled={entries.length === 0}
            onClick={() => {
              taken(entries)
              close()
            }}
          >
            Take {plural(entries.length, 'entry', 'entries')}
          </Button>
        </div>
      </div>
    </Dialog>
  )
}
