import { Button, Checkbox } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import type { ListState } from '../../app/router'
import { api, type Schemas, take, type WriteRow } from '../../shared/api'
import { Chips } from '../../shared/Chips'
import { Dialog } from '../../shared/Dialog'
import { count, move, plural, value, when } from '../../shared/format'
import { type Column, LongTable } from '../../shared/LongTable'
import { Search } from '../../shared/Search'
import { Empty, Loaded } from '../../shared/states'
import { Trace } from '../../shared/Trace'
import { useSend } from './actions'

type Detail = Schemas['RunDetail']
type LaneKind = Schemas['LaneKind']

const nouns: Record<LaneKind, [string, string]> = {
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

/** Every record a run would write, or wrote: old beside new, the difference, and why. */
export function ChangeSet({ detail, state, set }: { detail: Detail; state: ListState; set: (change: ListState) => void }) {
  const { run } = detail
  const kind = run.laneKind
  const c = run.writes
  const show = state.show ?? 'all'
  const choosing = run.state === 'ready' || (run.state === 'done' && c.held > 0)
  const [except, setExcept] = useState<ReadonlySet<number>>(new Set())
  const [held, setHeld] = useState<ReadonlySet<number>>(new Set())
  const send = useSend(run.id)
  const [asks, asking] = useDisclosure(false)

  const chosen = (w: WriteRow) => (w.state === 'held' ? held.has(w.id) : w.state === 'planned' && !except.has(w.id))
  const toggle = (w: WriteRow) => {
    const flip = (set: ReadonlySet<number>) => {
      const next = new Set(set)
      if (!next.delete(w.id)) next.add(w.id)
      return next
    }
    if (w.state === 'held') setHeld(flip)
    if (w.state === 'planned') setExcept(flip)
  }
  const toSend = c.planned - except.size + held.size
  const query = { show: show === 'all' ? undefined : show, search: state.search, sort: state.sort ?? 'size' }

  const columns: Column<WriteRow>[] = [
    ...(choosing
      ? [
          {
            key: 'choose',
            head: 'Choose',
            hidden: true,
            width: '22px',
            cell: (w: WriteRow) =>
              w.state === 'planned' || w.state === 'held' ? (
                <Checkbox
                  aria-label={`Send ${w.sku ?? w.targetKey}`}
                  checked={chosen(w)}
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
    {
      key: 'old',
      head: `there now, ${detail.unit}`,
      width: '84px',
      numeric: true,
      cell: (w) => <span className="struck">{value(w.old, kind)}</span>,
    },
    {
      key: 'new',
      head: c.planned + c.held === c.total ? 'would be' : 'new',
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
    {
      key: 'state',
      head: 'State',
      hidden: true,
      width: '92px',
      cell: (w) => {
        const [word, tone] = states[w.state]
        return word ? (
          <span className={`tag ${tone}`} title={w.holdReason ?? w.message ?? undefined}>
            {word}
          </span>
        ) : null
      },
    },
  ]

  return (
    <>
      <Dialog opened={asks} close={asking.close} title={`Send to ${run.target.name}?`}>
        <div className="stack">
          <div>
            {plural(toSend, ...nouns[kind])} will be written at once
            {held.size > 0 && <>, among them {count(held.size)} that had been held because they look wrong</>}. Each is checked against what
            is there before it is sent, and read back afterwards.
          </div>
          <div className="row">
            <span className="grow" />
            <Button onClick={asking.close}>Not now</Button>
            <Button
              variant="filled"
              data-autofocus
              loading={send.isPending}
              onClick={() =>
                send.mutate(
                  run.state === 'ready'
                    ? { all: true, except: [...except], only: [...held] }
                    : { all: false, except: null, only: [...held] },
                )
              }
            >
              Send {count(toSend)} now
            </Button>
          </div>
        </div>
      </Dialog>
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
      <div className="row wrap">
        <Chips
          label="Changes"
          chosen={show}
          choose={(k) => set({ show: k === 'all' ? undefined : k, row: undefined })}
          chips={[
            { key: 'all', text: 'All', count: c.total, always: true },
            { key: 'up', text: 'Up', count: c.up },
            { key: 'down', text: 'Down', count: c.down },
            { key: 'held', text: 'Held', count: c.held },
            { key: 'confirmed', text: 'Confirmed', count: c.confirmed },
            { key: 'failed', text: 'Failed', count: c.failed + c.overtaken },
            { key: 'skipped', text: 'Not chosen', count: c.skipped },
          ]}
        />
        <span className="dim small">
          in step {count(run.inStep)}
          {run.remarked > 0 && (
            <>
              {' · '}
              <Link to="/runs/$run" params={{ run: String(run.id) }} search={{ tab: 'remarks' }}>
                not computed {count(run.remarked)}
              </Link>
            </>
          )}
        </span>
        <span className="grow" />
        <Search label="SKU or name" text={state.search ?? ''} search={(search) => set({ search, row: undefined })} />
        <Button component="a" href={`/api/runs/${run.id}/writes.csv${query.show ? `?show=${query.show}` : ''}`} download>
          Export
        </Button>
        {choosing && (
          <Button variant="filled" disabled={toSend === 0} onClick={asking.open}>
            Send {count(toSend)} chosen
          </Button>
        )}
      </div>
      <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 296px' }}>
        <div className="sheet" style={{ minHeight: 0, overflow: 'hidden' }}>
          <LongTable<WriteRow>
            label="Changes"
            queryKey={['writes', run.id, query]}
            fetch={(offset, limit) =>
              take(
                api.GET('/api/runs/{id}/writes', {
                  params: { path: { id: run.id }, query: { ...query, offset, limit } },
                }),
              )
            }
            columns={columns}
            rowKey={(w) => String(w.id)}
            chosen={state.row}
            open={(w) => set({ row: String(w.id) })}
            mark={choosing ? toggle : undefined}
            sort={state.sort}
            setSort={(sort) => set({ sort })}
            empty={
              c.total === 0 ? (
                <Empty title="Nothing to change">
                  All {count(run.inStep)} paired records are in step. Compared {when(run.plannedAt)}.
                </Empty>
              ) : (
                <Empty title="Nothing matches this filter">
                  <button type="button" className="act" onClick={() => set({ show: undefined, search: undefined })}>
                    Show all {count(c.total)}
                  </button>
                </Empty>
              )
            }
          />
        </div>
        <Why run={run.id} write={state.row} kind={kind} />
      </div>
    </>
  )
}

function Why({ run, write, kind }: { run: number; write: string | undefined; kind: LaneKind }) {
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
        <Empty title="Why?">Choose a line to see how its value comes about, step by step.</Empty>
      </div>
    )
  return (
    <section className="sheet side" aria-label="Why">
      <Loaded of={detail}>
        {({ write: w, ruleNumber, fields, sentAt, confirmedAt }) => (
          <>
            <div className="pad">
              <div className="strong" style={{ fontSize: 15 }}>
                Why {value(w.new, kind)}
              </div>
              <div className="dim">{w.title}</div>
            </div>
            {w.holdReason && (
              <div className="line" style={{ color: 'var(--ochre)' }}>
                {w.state === 'held' ? 'Held' : 'Was held'}: {w.holdReason}.
              </div>
            )}
            {w.message && <div className="line minus">{w.message}</div>}
            {fields.slice(0, 1).map((f) => (
              <Trace key={f.field} steps={f.trace} />
            ))}
            {fields.slice(1).map((f) => (
              <div key={f.field} className="line small" style={{ gridTemplateColumns: '1fr auto auto' }}>
                <span>{f.field}</span>
                <span className="num struck">{value(f.old, kind)}</span>
                <span className="num strong">{value(f.new, kind)}</span>
              </div>
            ))}
            <div className="line dim small" style={{ display: 'block' }}>
              Rule version {ruleNumber}.{sentAt && ` Sent ${when(sentAt)}${w.attempts > 1 ? `, ${w.attempts} attempts` : ''}.`}
              {confirmedAt && ` Read back and confirmed ${when(confirmedAt)}.`}
            </div>
          </>
        )}
      </Loaded>
    </section>
  )
}
