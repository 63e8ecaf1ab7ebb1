import { Button, Checkbox, NumberInput, Select } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import type { ListState } from '../../app/router'
import { api, type Schemas, take, type WriteRow } from '../../shared/api'
import { Chips } from '../../shared/Chips'
import { Dialog } from '../../shared/Dialog'
import { count, move, plural, value, when } from '../../shared/format'
import { type Column, LongTable } from '../../shared/LongTable'
import { Search } from '../../shared/Search'
import { apart } from '../../shared/shown'
import { Empty, Loaded } from '../../shared/states'
import { Trace } from '../../shared/Trace'
import { guardNames } from '../lanes/guardNames'
import { sayRefusal, useDismiss, useLetThereCount, useRollBack, useSend } from './actions'
import { useChoice, useTakenBack } from './choice'

type Detail = Schemas['RunDetail']
type LaneKind = Schemas['LaneKind']

const nouns: Record<LaneKind, [string, string]> = {
  item: ['record', 'records'],
  price: ['price', 'prices'],
  stock: ['quantity', 'quantities'],
  correction: ['value', 'values'],
}

const states: Record<WriteRow['state'], [string, string]> = {
  planned: ['', 'plain'],
  held: ['held', 'ochre'],
  skipped: ['not chosen', 'plain'],
  unknown: ['no answer yet', 'ochre'],
  sent: ['sent', 'ochre'],
  confirmed: ['confirmed', 'glaze'],
  overtaken: ['changed there', 'clay'],
  failed: ['failed', 'harm'],
}

const kinds: Partial<Record<WriteRow['kind'], [string, string]>> = {
  new: ['new', 'clay'],
  gone: ['withdrawn', 'harm'],
  back: ['back to the source', 'ochre'],
}

/** Every record a run would write, or wrote: old beside new, the difference, and why. */
export function ChangeSet({ detail, state, set }: { detail: Detail; state: ListState; set: (change: ListState) => void }) {
  const { run } = detail
  const kind = run.laneKind
  const c = run.writes
  const show = state.show ?? 'all'
  const choosing = run.state === 'ready' || (run.state === 'done' && c.held > 0)
  // What a filter shows is chosen to be sent, or, once it was, to be taken back.
  const sends = run.state === 'ready' || (choosing && show === 'held')
  const choice = useChoice(c.planned)
  const toSend = choice.count
  const send = useSend(run.id)
  const [asks, asking] = useDisclosure(false)
  const least = state.least ? Number(state.least) : undefined
  const filter = { show: show === 'all' ? undefined : show, search: state.search, field: state.field, least }
  const query = { ...filter, sort: state.sort ?? (kind === 'item' ? undefined : 'size') }
  const rows = (offset: number, limit: number) =>
    take(api.GET('/api/runs/{id}/writes', { params: { path: { id: run.id }, query: { ...query, offset, limit } } }))
  // The same first page that the table asks for; it says how many are shown.
  const first = useQuery({ queryKey: ['writes', run.id, query, 0], queryFn: () => rows(0, 100) })
  const label = (name: string | null | undefined) => {
    const field = detail.fields.find((f) => f.name === name)
    return field ? `${field.label}${field.unit ? `, ${field.unit}` : ''}` : name
  }
  const file = (form: string) => {
    const asked = Object.entries(filter).filter(([, v]) => v !== undefined)
    return `/api/runs/${run.id}/writes.${form}?${new URLSearchParams(asked.map(([k, v]) => [k, String(v)]))}`
  }

  // What was confirmed may be taken back, all of it or the chosen ones.
  const backable = run.state === 'done' && !run.preview ? c.confirmed - c.takenBack : 0
  const back = useTakenBack()
  const [asksBack, askingBack] = useDisclosure(false)
  const rollBack = useRollBack(run.id)
  const mayGoBack = (w: WriteRow) => backable > 0 && w.state === 'confirmed' && w.takenBackIn === null
  const toggle = (w: WriteRow) => (mayGoBack(w) ? back.toggle(w) : choice.toggle(w))
  // Where every write is simply planned, a column that says so would only take room.
  const stateful = c.planned < c.total || c.guarded > 0

  // Before it is sent, the old value is what the target has; afterwards it is what it had.
  const [was, becomes] = c.planned + c.held === c.total ? ['there now', 'would be'] : ['before', 'new']
  const columns: Column<WriteRow>[] = [
    ...(choosing || backable > 0
      ? [
          {
            key: 'choose',
            head: 'Choose',
            hidden: true,
            width: '22px',
            cell: (w: WriteRow) =>
              (choosing && (w.state === 'planned' || w.state === 'held')) || mayGoBack(w) ? (
                <Checkbox
                  aria-label={`${mayGoBack(w) ? 'Take back' : 'Send'} ${w.sku ?? w.targetKey}`}
                  checked={mayGoBack(w) ? back.has(w) : choice.has(w)}
                  onChange={() => toggle(w)}
                  onClick={(e) => e.stopPropagation()}
                />
              ) : null,
          },
        ]
      : []),
    {
      key: 'sku',
      head: 'SKU',
      width: '118px',
      sort: 'sku',
      cell: (w) => <span className="mono">{w.sku}</span>,
    },
    { key: 'title', head: 'Item', width: 'minmax(0, 1fr)', cell: (w) => w.title },
    ...(kind === 'item'
      ? itemColumns(label, was, becomes)
      : ([
          {
            key: 'old',
            head: `${was}, ${detail.unit}`,
            width: '84px',
            numeric: true,
            cell: (w) => <span className="struck">{value(w.old, kind)}</span>,
          },
          {
            key: 'new',
            head: becomes,
            width: '72px',
            numeric: true,
            cell: (w) => <span className="strong">{value(w.new, kind)}</span>,
          },
          {
            key: 'move',
            head: 'move',
            width: '70px',
            numeric: true,
            sort: 'move',
            cell: (w) => <span className={w.kind === 'down' ? 'minus' : undefined}>{move(w.move, kind)}</span>,
          },
        ] as Column<WriteRow>[])),
    ...(stateful ? [stateColumn] : []),
  ]

  return (
    <>
      <Dialog opened={asks} close={asking.close} title={`Send to ${run.target.name}?`}>
        <div className="stack">
          <div>
            {plural(toSend, ...nouns[kind])} will be written at once
            {choice.held > 0 && <>, among them {count(choice.held)} that had been held because they look wrong</>}. Each is checked against
            what is there before it is sent, and read back afterwards.
          </div>
          {run.state === 'ready' &&
            detail.guards.map((g) => (
              <div key={g.kind} className="dim">
                The guards found: {g.message}.
              </div>
            ))}
          <div className="row">
            <span className="grow" />
            <Button onClick={asking.close}>Not now</Button>
            <Button
              variant="filled"
              data-autofocus
              loading={send.isPending}
              onClick={() =>
                send.mutate(choice.asked(run.state === 'ready'), {
                  onSuccess: () => {
                    asking.close()
                    choice.all()
                  },
                })
              }
            >
              Send {count(toSend)} now
            </Button>
          </div>
        </div>
      </Dialog>
      <Dialog opened={asksBack} close={askingBack.close} title={`Take run ${run.id} back?`}>
        <div className="stack">
          <div>
            {plural(back.count || backable, ...nouns[kind])} will be compared with what {run.target.name} holds now. Where it still holds
            what this run wrote, the old value is planned; what has moved on since is left as it is and listed. Nothing is written before
            you send it. The lane’s timetable is paused, so that it does not send the same again.
          </div>
          <div className="row">
            <span className="grow" />
            <Button onClick={askingBack.close}>Not now</Button>
            <Button variant="filled" data-autofocus loading={rollBack.isPending} onClick={() => rollBack.mutate(back.asked())}>
              Plan the roll back
            </Button>
          </div>
        </div>
      </Dialog>
      {detail.guards.length > 0 && (
        <Stopped detail={detail} planned={c.planned} guarded={c.guarded} show={() => set({ show: 'guarded', row: undefined })} />
      )}
      {c.held > 0 && (
        <div className="note ochre">
          <span className="strong">{plural(c.held, 'value')} held.</span>
          <span className="grow">
            {detail.holds.map((h) => `${count(h.count)}: ${h.cause}`).join('; ')}. Held values are sent only when you choose them.
          </span>
          <button type="button" className="act" onClick={() => set({ show: 'held', row: undefined })}>
            Show the {count(c.held)}
          </button>
        </div>
      )}
      <div className="row wrap tools">
        <Chips
          label="Changes"
          slim
          chosen={show}
          choose={(k) => set({ show: k === 'all' ? undefined : k, row: undefined })}
          chips={[
            { key: 'all', text: 'All', count: c.total, always: true },
            { key: 'up', text: 'Up', count: c.up },
            { key: 'down', text: 'Down', count: c.down },
            { key: 'new', text: 'New', count: c.new },
            { key: 'gone', text: 'Withdrawn', count: c.gone },
            { key: 'back', text: 'Back to the source', count: c.back },
            { key: 'other', text: 'Changed', count: kind === 'item' ? c.other : 0 },
            { key: 'guarded', text: 'Guarded', count: c.guarded },
            { key: 'held', text: 'Held', count: c.held },
            { key: 'confirmed', text: 'Confirmed', count: c.confirmed },
            { key: 'failed', text: 'Failed', count: c.failed + c.overtaken },
            { key: 'skipped', text: 'Not chosen', count: c.skipped },
            { key: 'takenBack', text: 'Taken back', count: c.takenBack },
          ]}
        />
        {run.remarked > 0 && (
          <Link to="/runs/$run" params={{ run: String(run.id) }} search={{ tab: 'remarks' }} className="small">
            not computed {count(run.remarked)}
          </Link>
        )}
        <span className="grow" />
        <Search label="SKU or name" w={126} text={state.search ?? ''} search={(search) => set({ search, row: undefined })} />
        {kind === 'item' ? (
          <Select
            aria-label="Field"
            placeholder="any field"
            clearable
            searchable
            w={130}
            data={detail.fields.map((f) => ({ value: f.name, label: f.label }))}
            value={state.field ?? null}
            onChange={(field) => set({ field: field ?? undefined, row: undefined })}
          />
        ) : (
          kind !== 'correction' && (
            <NumberInput
              aria-label="Smallest move"
              placeholder="any move"
              w={94}
              min={0}
              hideControls
              prefix="≥ "
              suffix={kind === 'price' ? ' %' : ' pcs'}
              value={least ?? ''}
              onChange={(v) => set({ least: v === '' ? undefined : String(v), row: undefined })}
            />
          )
        )}
        <Button.Group>
          <Button component="a" href={file('csv')} download px={10}>
            CSV
          </Button>
          <Button component="a" href={file('xlsx')} download px={10}>
            XLSX
          </Button>
        </Button.Group>
        {backable > 0 && (
          <Button onClick={askingBack.open}>
            {back.count > 0 ? `Roll back ${count(back.count)} chosen` : `Roll back all ${count(backable)}`}
          </Button>
        )}
        {choosing && (run.state === 'ready' || toSend > 0) && (
          <Button variant="filled" disabled={toSend === 0} onClick={asking.open}>
            Send {count(toSend)} chosen
          </Button>
        )}
      </div>
      {(choosing || backable > 0) && (
        <Shown
          both={show === 'held' && detail.holds.some((h) => h.cause.includes('both sides'))}
          run={run.id}
          filter={filter}
          shown={first.data?.total}
          filtered={show !== 'all' || !!state.search || !!state.field || least !== undefined}
          sends={sends}
          choice={
            !sends
              ? back
              : show === 'held'
                ? { only: choice.addHeld, add: choice.addHeld, without: choice.withoutHeld, all: choice.all }
                : choice
          }
          whole={sends ? choice.whole : back.count === 0}
        />
      )}
      <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 296px' }}>
        <div className="sheet" style={{ minHeight: 0, overflow: 'hidden' }}>
          <LongTable<WriteRow>
            label="Changes"
            queryKey={['writes', run.id, query]}
            fetch={rows}
            columns={columns}
            rowKey={(w) => String(w.id)}
            chosen={state.row}
            open={(w) => set({ row: String(w.id) })}
            mark={choosing || backable > 0 ? toggle : undefined}
            sort={state.sort}
            setSort={(sort) => set({ sort })}
            empty={
              c.total === 0 ? (
                <Empty title="Nothing to change">
                  All {count(run.inStep)} paired records are in step. Compared {when(run.plannedAt)}.
                </Empty>
              ) : (
                <Empty title="Nothing matches this filter">
                  <button
                    type="button"
                    className="act"
                    onClick={() => set({ show: undefined, search: undefined, field: undefined, least: undefined })}
                  >
                    Show all {count(c.total)}
                  </button>
                </Empty>
              )
            }
          />
        </div>
        <Why run={run.id} write={state.row} kind={kind} label={label} system={run} decided={(id) => choice.withoutHeld([id])} />
      </div>
    </>
  )
}

const stateColumn: Column<WriteRow> = {
  key: 'state',
  head: 'State',
  hidden: true,
  width: '92px',
  cell: (w) => {
    const [word, tone] =
      w.takenBackIn !== null ? ['taken back', 'plain'] : w.state === 'planned' && w.guards ? ['guarded', 'harm'] : states[w.state]
    return word ? (
      <span className={`tag ${tone}`} title={w.holdReason ?? w.message ?? (w.guards ? guardWords(w.guards) : undefined)}>
        {word}
      </span>
    ) : null
  },
}

type Chosen = { only: (ids: number[]) => void; add: (ids: number[]) => void; without: (ids: number[]) => void; all: () => void }

/** Chooses, in one act, everything that a filter leaves to be seen. */
function Shown(props: {
  run: number
  both: boolean
  filter: Record<string, string | number | undefined>
  shown: number | undefined
  filtered: boolean
  sends: boolean
  choice: Chosen
  whole: boolean
}) {
  const { run, filter, sends, choice } = props
  const ids = useMutation({
    mutationFn: (_: (ids: number[]) => void) =>
      take(
        api.GET('/api/runs/{id}/writes/ids', {
          params: { path: { id: run }, query: { ...filter, to: sends ? 'send' : 'takeBack' } },
        }),
      ),
    onSuccess: (found, act) => act(found),
    onError: sayRefusal,
  })
  const there = useLetThereCount(run)
  const acts: [string, (ids: number[]) => void][] = [
    [sends ? 'Choose only these' : 'Take back only these', choice.only],
    [sends ? 'Choose these too' : 'Take back these too', choice.add],
    ['Leave these out', choice.without],
  ]
  // What is held joins by name, so there is no “only” among it; and while nothing is named to be taken back, all of it is, and there is nothing to add to.
  const fitting = filter.show === 'held' ? acts.slice(1) : !sends && props.whole ? acts.slice(0, 1) : acts
  if (!props.filtered && props.whole) return null
  return (
    <div className="row small" style={{ gap: 14 }}>
      {props.filtered && (props.shown ?? 0) > 0 && (
        <>
          <span className="dim">{count(props.shown ?? 0)} shown:</span>
          {fitting.map(([text, act]) => (
            <button key={text} type="button" className="act" disabled={ids.isPending} onClick={() => ids.mutate(act)}>
              {text}
            </button>
          ))}
          {props.both && (
            <button
              type="button"
              className="act"
              disabled={there.isPending}
              onClick={() => ids.mutate((found) => there.mutate(found, { onSuccess: () => choice.without(found) }))}
            >
              What is there counts
            </button>
          )}
        </>
      )}
      {!props.whole && (
        <button type="button" className="act" onClick={choice.all}>
          All again
        </button>
      )}
    </div>
  )
}

const guardWords = (guards: string) =>
  guards
    .split(' ')
    .map((g) => guardNames[g as keyof typeof guardNames] ?? g)
    .join(', ')

/** A record may change in many fields: the leading one is shown, old beside new, and how many more. */
function itemColumns(
  label: (name: string | null | undefined) => string | null | undefined,
  was: string,
  becomes: string,
): Column<WriteRow>[] {
  return [
    {
      key: 'field',
      head: 'Field',
      width: '126px',
      cell: (w) => {
        const [word, tone] = kinds[w.kind] ?? ['', '']
        return (
          <span className="row" style={{ gap: 5 }}>
            {word ? <span className={`tag ${tone}`}>{word}</span> : <span className="clip">{label(w.field)}</span>}
            {w.fields > 1 && <span className="dim small">+{count(w.fields - 1)}</span>}
          </span>
        )
      },
    },
    { key: 'old', head: was, width: 'minmax(0, 1fr)', cell: (w) => <span className="struck">{apart(w.old, w.new)}</span> },
    { key: 'new', head: becomes, width: 'minmax(0, 1fr)', cell: (w) => <span className="strong">{apart(w.new, w.old)}</span> },
  ]
}

/** What the guards found, the worst cases, and the three ways on. */
function Stopped({ detail, planned, guarded, show }: { detail: Detail; planned: number; guarded: number; show: () => void }) {
  const { run, guards } = detail
  const send = useSend(run.id)
  const dismiss = useDismiss(run.id)
  const [asks, asking] = useDisclosure(false)
  const open = run.state === 'ready' && planned > 0
  return (
    <section className={open ? 'note harm' : 'note'} style={{ display: 'block' }} aria-label="Guards">
      <Dialog opened={asks} close={asking.close} title={`Send all ${count(planned)}, against the guards?`}>
        <div className="stack">
          {guards.map((g) => (
            <div key={g.kind}>{g.message}.</div>
          ))}
          <div className="row">
            <span className="grow" />
            <Button onClick={asking.close}>Not now</Button>
            <Button
              variant="filled"
              loading={send.isPending}
              onClick={() => send.mutate({ all: true, except: null, only: null, withoutGuarded: false }, { onSuccess: asking.close })}
            >
              Send all {count(planned)} all the same
            </Button>
          </div>
        </div>
      </Dialog>
      <div className="row wrap">
        <span className="grow">
          <span className="strong">
            {run.stopped
              ? 'The guards stopped this run before its first write.'
              : open
                ? 'The guards would stop this.'
                : 'The guards had stopped this.'}
          </span>{' '}
          {guards.map((g) => (
            <span key={g.kind} title={g.worst.join('\n')}>
              {g.message}.{g.worst.length > 0 && <span className="dim small"> Worst: {g.worst.slice(0, 3).join('; ')}.</span>}{' '}
            </span>
          ))}
        </span>
        {guarded > 0 && guarded < run.writes.total && (
          <button type="button" className="act" onClick={show}>
            Show the {count(guarded)}
          </button>
        )}
        {open && (
          <>
            {guarded > 0 && planned > guarded && (
              <Button loading={send.isPending} onClick={() => send.mutate({ all: true, except: null, only: null, withoutGuarded: true })}>
                Send the other {count(planned - guarded)}
              </Button>
            )}
            <Button onClick={asking.open}>Send all</Button>
            <Button loading={dismiss.isPending} onClick={() => dismiss.mutate()}>
              Send none
            </Button>
          </>
        )}
      </div>
    </section>
  )
}

function Why(props: {
  run: number
  write: string | undefined
  kind: LaneKind
  label: (name: string | null | undefined) => string | null | undefined
  system: Detail['run']
  decided: (write: number) => void
}) {
  const { run, write, kind, label, system } = props
  const there = useLetThereCount(run)
  const detail = useQuery({
    enabled: write !== undefined,
    queryKey: ['writes', run, 'one', write],
    queryFn: () =>
      take(
        api.GET('/api/runs/{id}/writes/{writeId}', {
          params: { path: { id: run, writeId: Number(write) } },
        }),
      ),
  })
  if (write === undefined)
    return (
      <div className="sheet side">
        <Empty title="Why?">
          Choose a line to see how its value comes about, step by step.
          {system.rollsBack === null && (
            <span>
              {plural(system.inStep, 'compared record')} {system.inStep === 1 ? 'is' : 'are'} in step already.
            </span>
          )}
        </Empty>
      </div>
    )
  return (
    <section className="sheet side" aria-label="Why">
      <Loaded of={detail}>
        {({ write: w, ruleNumber, fields, sentAt, confirmedAt }) => (
          <>
            <div className="pad">
              <div className="strong" style={{ fontSize: 15 }}>
                Why{' '}
                {kind === 'item'
                  ? `${label(w.field)}${fields.length > 1 ? ` and ${count(fields.length - 1)} more` : ''}`
                  : value(w.new, kind)}
              </div>
              <div className="dim">{w.title}</div>
            </div>
            {w.holdReason && (
              <div className="line" style={{ color: 'var(--ochre)' }}>
                {w.state === 'held' ? 'Held' : 'Was held'}: {w.holdReason}.
              </div>
            )}
            {w.asks && (
              <div className="line row">
                <span className="grow dim small">Choose the line to send what is here, or let the other side’s value stand.</span>
                <Button
                  size="compact-sm"
                  loading={there.isPending}
                  onClick={() => there.mutate([w.id], { onSuccess: () => props.decided(w.id) })}
                >
                  What is there counts
                </Button>
              </div>
            )}
            {w.message && <div className="line minus">{w.message}</div>}
            {w.guards && <div className="line minus">Guarded: {guardWords(w.guards)}.</div>}
            {kind !== 'item' && fields.slice(0, 1).map((f) => <Trace key={f.field} steps={f.trace} />)}
            {(kind === 'item' ? fields : fields.slice(1)).map((f) => (
              <details key={f.field} className="line small change" open={fields.length === 1}>
                <summary>
                  {label(f.field)} <span className="struck">{value(f.old, kind)}</span> →{' '}
                  <span className="strong">{value(f.new, kind)}</span>
                </summary>
                <Trace steps={f.trace} />
              </details>
            ))}
            <div className="line dim small" style={{ display: 'block' }}>
              Rule version {ruleNumber}.{sentAt && ` Sent ${when(sentAt)}${w.attempts > 1 ? `, ${w.attempts} attempts` : ''}.`}
              {confirmedAt && ` Read back and confirmed ${when(confirmedAt)}.`}{' '}
              {w.takenBackIn !== null && (
                <Link to="/runs/$run" params={{ run: String(w.takenBackIn) }} search={{}}>
                  Taken back by run {w.takenBackIn}.
                </Link>
              )}{' '}
              {w.act !== 'create' && (
                <Link
                  to="/systems/$system/records/$key"
                  params={w.toSource ? { system: system.source.id, key: w.hubKey } : { system: system.target.id, key: w.targetKey }}
                  search={{ field: w.field ?? undefined }}
                >
                  What it was before
                </Link>
              )}
            </div>
          </>
        )}
      </Loaded>
    </section>
  )
}
