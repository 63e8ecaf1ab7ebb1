import { Button, NumberInput, Select } from '@mantine/core'
import { useMediaQuery } from '@mantine/hooks'
import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useStartRun } from '../../shared/acts'
import type { RunSummary, WriteRow } from '../../shared/api'
import { Chips } from '../../shared/Chips'
import { count, plural, when } from '../../shared/format'
import { firstOf, LongTable } from '../../shared/LongTable'
import type { ViewOf } from '../../shared/listState'
import { queries } from '../../shared/queries'
import { Search } from '../../shared/Search'
import { SheetLinks } from '../../shared/SheetLinks'
import { Empty } from '../../shared/states'
import { changeColumns, type Marking } from './changeColumns'
import { RollBack, SendChosen } from './Decisions'
import { fieldNames, fieldsOf, type RunDetail } from './fields'
import { Shown, type WriteFilter } from './Shown'
import { Stopped } from './Stopped'
import { useChoice, useTakenBack } from './useChoice'
import { Why } from './Why'

type Change = (change: ViewOf<'/runs/$run'>) => void

/** Every record a run would write, or wrote: old beside new, the difference, and why. */
export function ChangeSet({ detail, state, set }: { detail: RunDetail; state: ViewOf<'/runs/$run'>; set: Change }) {
  const { run } = detail
  const c = run.writes
  const held = state.show === 'held'
  // What was held or not chosen may still be sent when the rest has been.
  const open = run.state === 'ready' || (run.state === 'done' && c.held + c.skipped > 0)
  // What a filter shows is chosen to be sent, or, once it was, to be taken back.
  const sends = run.state === 'ready' || (open && (held || state.show === 'skipped'))
  const plain = run.state === 'ready' ? c.planned - c.plannedGuarded : 0
  const choice = useChoice(plain)
  const back = useTakenBack()
  // What was confirmed may be taken back, all of it or the chosen ones.
  const backable = run.state === 'done' && !run.preview ? c.confirmed - c.takenBack : 0
  const filter = filterOf(state)
  const query = { ...filter, sort: state.sort ?? (run.work.moveUnit === null ? undefined : 'size') }
  // The same first page that the table asks for; it says how many are shown.
  const first = useQuery(firstOf(queries.writes(run.id, query)))
  const fieldOf = fieldsOf(detail)
  // Beside the panel a narrow screen has room for the record and its values; the panel tells the rest.
  const tight = useMediaQuery('(max-width: 1100px)') && state.row !== undefined
  const marking = open || backable > 0 ? { ...markingOf(open, backable > 0, choice, back), all: plain > 0 ? allOf(choice) : null } : null

  return (
    <>
      {detail.stale && <Stale detail={detail} />}
      {detail.guards.length > 0 && <Stopped detail={detail} show={() => set({ show: 'guarded', row: undefined })} />}
      {c.held > 0 && <Held detail={detail} show={(cause) => set({ show: 'held', cause, row: undefined })} />}
      <div className="row wrap tools">
        <Filters detail={detail} state={state} set={set} />
        <Files run={run.id} filter={filter} />
        {backable > 0 && <RollBack detail={detail} backable={backable} back={back} />}
        {open && (run.state === 'ready' || choice.count > 0) && <SendChosen detail={detail} choice={choice} />}
      </div>
      {marking && (
        <Shown
          asks={held && detail.holds.some((h) => h.code === 'changedOnBoth')}
          run={run.id}
          filter={filter}
          shown={first.data?.total}
          sends={sends}
          choice={sends ? choice : back}
          whole={sends ? choice.whole : back.count === 0}
        />
      )}
      <div className="split" style={{ gridTemplateColumns: state.row === undefined ? 'minmax(0, 1fr)' : 'minmax(0, 1fr) 296px' }}>
        <div className="sheet" style={{ minHeight: 0, overflow: 'hidden' }}>
          <LongTable<WriteRow>
            label="Changes"
            pages={queries.writes(run.id, query)}
            columns={changeColumns(detail, fieldOf, marking).filter((c) => !tight || !toldBeside.has(c.key))}
            rowKey={(w) => String(w.id)}
            chosen={state.row}
            open={(w) => set({ row: String(w.id) })}
            mark={marking?.toggle}
            sort={state.sort}
            setSort={(sort) => set({ sort })}
            empty={
              <Nothing
                run={run}
                show={state.show}
                showAll={() => set({ show: undefined, search: undefined, field: undefined, least: undefined, cause: undefined })}
              />
            }
          />
        </div>
        <Why
          run={run}
          write={state.row}
          close={() => set({ row: undefined })}
          fieldOf={fieldOf}
          decided={(id) => choice.without({ plain: [], byName: [id] })}
        />
      </div>
    </>
  )
}

/** Why nothing of it can be sent any more, and the way to one that can. */
function Stale({ detail }: { detail: RunDetail }) {
  const start = useStartRun()
  return (
    <div className="note harm" role="alert">
      <span className="grow">{detail.stale?.words}</span>
      <Button loading={start.isPending} onClick={() => start.mutate({ lane: detail.run.laneId, preview: true })}>
        Preview again
      </Button>
    </div>
  )
}

/** The columns whose part the panel tells too. */
const toldBeside = new Set(['field', 'move', 'state'])

const filterOf = (state: ViewOf<'/runs/$run'>): WriteFilter => ({
  show: state.show,
  search: state.search,
  field: state.field,
  least: state.least ? Number(state.least) : undefined,
  cause: state.cause,
})

const sendable = (w: WriteRow) => w.state === 'planned' || w.state === 'held' || (w.state === 'skipped' && w.fate === null)

/** A confirmed line is marked to be taken back, one that is still open to be sent. */
function markingOf(open: boolean, backable: boolean, choice: ReturnType<typeof useChoice>, back: ReturnType<typeof useTakenBack>) {
  const mayGoBack = (w: WriteRow) => backable && w.state === 'confirmed' && w.takenBackIn === null
  return {
    offered: (w: WriteRow) => (mayGoBack(w) ? 'takeBack' : open && sendable(w) ? 'send' : null),
    has: (w: WriteRow) => (mayGoBack(w) ? back.has(w) : choice.has(w)),
    toggle: (w: WriteRow) => (mayGoBack(w) ? back.toggle(w) : choice.toggle(w)),
  } satisfies Omit<Marking, 'all'>
}

const allOf = (choice: ReturnType<typeof useChoice>): NonNullable<Marking['all']> => ({
  chosen: choice.whole ? 'all' : choice.count > 0 ? 'some' : 'none',
  toggle: choice.whole ? choice.none : choice.all,
})

function Held({ detail, show }: { detail: RunDetail; show: (cause: string | undefined) => void }) {
  const held = detail.run.writes.held
  return (
    <div className="note ochre">
      <span className="strong">{plural(held, 'value')} held.</span>
      <span className="grow">
        {detail.holds.map((h, i) => (
          <span key={h.code}>
            {i > 0 && '; '}
            <button type="button" className="act" onClick={() => show(h.code)}>
              {count(h.count)}: {h.words}
            </button>
          </span>
        ))}
        . Held values are sent only when you choose them.
      </span>
      <button type="button" className="act" onClick={() => show(undefined)}>
        Show the {count(held)}
      </button>
    </div>
  )
}

/** Which lines are shown: by kind or state, by text, and by field or by how far they move. */
function Filters({ detail, state, set }: { detail: RunDetail; state: ViewOf<'/runs/$run'>; set: Change }) {
  const { run } = detail
  const { writes: c, work } = run
  return (
    <>
      <Chips
        label="Changes"
        slim
        chosen={state.show ?? 'all'}
        choose={(k) => set({ show: k === 'all' ? undefined : k, row: undefined, cause: undefined })}
        chips={[
          { key: 'all', text: 'All', count: c.total, always: true },
          { key: 'sent', text: 'Sent', count: c.total - c.planned - c.skipped - c.decided - c.held },
          { key: 'planned', text: 'Would change', word: 'would change', count: state.show === 'planned' ? c.planned : 0 },
          { key: 'up', text: 'Up', count: c.up },
          { key: 'down', text: 'Down', count: c.down },
          { key: 'new', text: 'New', count: c.new },
          { key: 'withdrawn', text: 'Withdrawn', count: c.withdrawn },
          { key: 'back', text: 'Back to the source', count: c.back },
          { key: 'other', text: 'Changed', count: work.moveUnit === null ? c.other : 0 },
          { key: 'guarded', text: 'Guarded', word: 'guarded', count: c.guarded },
          { key: 'held', text: 'Held', word: 'held', count: c.held },
          { key: 'confirmed', text: 'Confirmed', count: c.confirmed },
          { key: 'failed', text: 'Failed', word: 'did not get there', count: c.failed + c.overtaken },
          { key: 'skipped', text: 'Not chosen', word: 'not chosen', count: c.skipped },
          { key: 'decided', text: 'What is there counts', count: c.decided },
          { key: 'open', text: 'On their way', count: run.state === 'failed' ? c.planned + c.unknown + c.sent : 0 },
          { key: 'takenBack', text: 'Taken back', word: 'taken back', count: c.takenBack },
        ]}
      />
      {run.remarked > 0 && (
        <Link to="/runs/$run" params={{ run: String(run.id) }} search={{ tab: 'remarks' }} className="small">
          not computed {count(run.remarked)}
        </Link>
      )}
      {run.rollsBack === null && run.inStep > 0 && <span className="dim small">{count(run.inStep)} in step</span>}
      <span className="grow" />
      <Search label="SKU or name" w={126} text={state.search ?? ''} search={(search) => set({ search, row: undefined })} />
      {work.moveUnit === null ? (
        <Select
          aria-label="Field"
          placeholder="any field"
          clearable
          searchable
          w={130}
          data={fieldNames(detail).map((f) => ({ value: f.name, label: f.label }))}
          value={state.field ?? null}
          onChange={(field) => set({ field: field ?? undefined, row: undefined })}
        />
      ) : (
        <NumberInput
          aria-label="Smallest move"
          placeholder="any move"
          w={94}
          min={0}
          hideControls
          prefix="≥ "
          suffix={` ${work.moveUnit}`}
          value={state.least ? Number(state.least) : ''}
          onChange={(v) => set({ least: v === '' ? undefined : String(v), row: undefined })}
        />
      )}
    </>
  )
}

/** What is shown, as a file. */
function Files({ run, filter }: { run: number; filter: WriteFilter }) {
  const asked = Object.entries(filter).filter(([, v]) => v !== undefined)
  const file = (form: string) => `/api/runs/${run}/writes.${form}?${new URLSearchParams(asked.map(([k, v]) => [k, String(v)]))}`
  return <SheetLinks file={file} />
}

function Nothing({ run, show, showAll }: { run: RunSummary; show?: string; showAll: () => void }) {
  if (run.writes.total === 0)
    return (
      <Empty title="Nothing to change">
        All {count(run.inStep)} paired records are in step. Compared {when(run.plannedAt)}.
      </Empty>
    )
  return (
    <Empty title={run.state === 'working' && show === 'sent' ? 'Nothing has been sent yet' : 'Nothing matches this filter'}>
      <button type="button" className="act" onClick={showAll}>
        Show all {count(run.writes.total)}
      </button>
    </Empty>
  )
}
