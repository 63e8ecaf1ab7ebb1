import { Kbd } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { useRef } from 'react'
import { age, count, value } from '../../shared/format'
import { harms } from '../../shared/harms'
import { type Column, LongTable } from '../../shared/LongTable'
import type { ViewOf } from '../../shared/listState'
import { queries } from '../../shared/queries'
import { Search } from '../../shared/Search'
import { SystemMark } from '../../shared/SystemMark'
import { Empty } from '../../shared/states'
import { useDesk } from './actions'
import { Files } from './Files'
import { type Cause, filterOf, type Mismatch, othersIn, othersOf, useMismatch } from './mismatch'
import { WayOut } from './WayOut'

/** The records of one cause, each with its way out beside it; below, the chosen one on the seam. */
export function Records({
  state,
  set,
  causes,
}: {
  state: ViewOf<'/mismatches'>
  set: (change: ViewOf<'/mismatches'>) => void
  causes: Cause[]
}) {
  const filter = filterOf(state)
  const others = othersOf(state.alike)
  const cause = causes.find((c) => c.cause === state.cause)
  const desk = useDesk()
  const one = useMismatch(state.row)
  const steer = useRef<((by: number) => void) | null>(null)
  const at = causes.findIndex((c) => c.cause === state.cause)
  const turn = (by: number) => {
    const next = causes[at + by]
    if (next) set({ cause: next.cause, row: undefined, on: undefined })
  }
  useHotkeys([
    ['j', () => steer.current?.(1)],
    ['k', () => steer.current?.(-1)],
    [']', () => turn(1)],
    ['[', () => turn(-1)],
    ['u', () => desk.undoLast()],
    ['Escape', () => others && set({ alike: undefined })],
  ])
  return (
    <>
      <div className="page-head">
        <h1 className="row clip" style={{ gap: 10, fontSize: 19 }}>
          <button
            type="button"
            className="act"
            style={{ fontSize: 15 }}
            onClick={() => set({ cause: undefined, row: undefined, on: undefined })}
          >
            Mismatches
          </button>
          <span className="dim" aria-hidden="true">
            ›
          </span>
          {cause?.heading ?? one.data?.row.heading ?? (causes.length === 0 ? '…' : state.cause)}
        </h1>
        {cause && <span className={`tag ${harms[cause.harm][1]}`}>{harms[cause.harm][0]}</span>}
        {cause && <span className="dim">{count(cause.count)}</span>}
        <span className="grow" />
        <button type="button" className="act nowrap" disabled={at <= 0} onClick={() => turn(-1)}>
          <Kbd size="xs">[</Kbd> previous
        </button>
        <button type="button" className="act nowrap" disabled={at < 0 || at >= causes.length - 1} onClick={() => turn(1)}>
          next cause <Kbd size="xs">]</Kbd>
        </button>
        <Files filter={filter} />
        <Search label="SKU, number or name" text={state.search ?? ''} search={(search) => set({ search })} slim />
      </div>
      {others && (
        <div className="note ochre" role="status" style={{ alignItems: 'center' }}>
          <span className="grow">
            These would get the same{others.scope === 'cause' ? ', all of this cause' : ', all that are alike'}. Look, then press{' '}
            <Kbd size="xs">A</Kbd> once more.
          </span>
          <button type="button" className="act" onClick={() => set({ alike: undefined })}>
            Back to the list <Kbd size="xs">Esc</Kbd>
          </button>
        </div>
      )}
      {state.on !== undefined && !others && (
        <div className="row">
          <span className="dim">about</span> <span className="mono strong">{state.on}</span>
          <button type="button" className="act" onClick={() => set({ on: undefined })}>
            Show all of this cause
          </button>
        </div>
      )}
      <div className="sheet" style={{ flex: '1 1 40%', minHeight: 0, overflow: 'hidden' }}>
        <LongTable<Mismatch>
          label="Records of this cause"
          pages={queries.mismatches(filter)}
          columns={columns}
          rowKey={(r) => String(r.id)}
          chosen={state.row}
          open={(r) => set({ row: String(r.id) })}
          follow={() => undefined}
          steer={steer}
          empty={<Empty title="Nothing of this is left">The next cause is one key away: ].</Empty>}
        />
      </div>
      {one.data && state.row && (
        <WayOut
          key={one.data.row.id}
          view={one.data}
          isChosen={String(one.data.row.id) === state.row}
          desk={desk}
          about={(on) => set({ on, row: undefined })}
          others={others?.of === String(one.data.row.id) ? others : undefined}
          show={(wanted) => set({ alike: wanted && othersIn(wanted) })}
        />
      )}
    </>
  )
}

const columns: Column<Mismatch>[] = [
  {
    key: 'system',
    head: 'System',
    hidden: true,
    width: '74px',
    cell: (r) => (
      <span className="row" style={{ gap: 3 }}>
        {r.system && <SystemMark system={r.system} />}
        {r.other && <SystemMark system={r.other} />}
      </span>
    ),
  },
  { key: 'reference', head: 'Record', width: '118px', cell: (r) => <span className="mono">{r.reference ?? r.key}</span> },
  { key: 'caption', head: 'Called', width: 'minmax(0, 0.9fr)', cell: (r) => r.caption },
  { key: 'words', head: 'What is the matter', width: 'minmax(0, 1.2fr)', cell: (r) => r.words },
  {
    key: 'way',
    head: 'Way out',
    width: 'minmax(0, 1.7fr)',
    cell: (r) => (r.suggestion ? <span className="clay-ink">{r.suggestion.words}</span> : <span className="dim">by hand</span>),
  },
  {
    key: 'cost',
    head: 'Cost',
    width: '104px',
    numeric: true,
    cell: (r) =>
      r.worth ? `${value(String(r.worth.sum), 'money')} ${r.worth.currency}` : r.pieces === null ? '' : `${count(r.pieces)} pcs`,
  },
  { key: 'owner', head: 'Who', width: '62px', cell: (r) => r.settledBy ?? r.owner ?? <span className="dim">nobody</span> },
  { key: 'since', head: 'Since', width: '84px', numeric: true, cell: (r) => age(r.since) },
]
