import { Checkbox } from '@mantine/core'
import type { LaneWork, WriteRow } from '../../shared/api'
import { Differs } from '../../shared/Differs'
import { count, move, value } from '../../shared/format'
import type { Column } from '../../shared/LongTable'
import { type FieldOf, labelOf, type RunDetail, type ShownField } from './fields'
import { guardWords, kindWord, stateWord } from './writeWords'

type Changes = Column<WriteRow>[]

/** How a line can be chosen, to be sent or to be taken back. */
export type Marking = {
  offered: (w: WriteRow) => 'send' | 'takeBack' | null
  has: (w: WriteRow) => boolean
  toggle: (w: WriteRow) => void
  /** All that is plainly planned in one act, or none of it; null: there is nothing to be sent. */
  all: { chosen: 'all' | 'some' | 'none'; toggle: () => void } | null
}

/** The columns of a change set: what is chosen, which record, old beside new, and its state. */
export function changeColumns(detail: RunDetail, fieldOf: FieldOf, marking: Marking | null): Changes {
  const { work, writes: c } = detail.run
  // Before it is sent, the old value is what the target has; afterwards it is what it had.
  const [was, becomes] = c.planned + c.held === c.total ? ['there now', 'would be'] : ['before', 'new']
  // Where every write is simply planned, a column that says so would only take room.
  const stateful = c.planned < c.total || c.guarded > 0
  return [
    ...(marking ? [markColumn(marking)] : []),
    { key: 'sku', head: work.referenceLabel, width: '118px', sort: 'sku', cell: (w) => <span className="mono">{w.reference}</span> },
    { key: 'title', head: work.captionLabel, width: 'minmax(0, 1fr)', cell: (w) => w.caption },
    ...(work.moveUnit === null ? fieldColumns(fieldOf, was, becomes) : amountColumns(fieldOf(detail.leading, 'there'), work, was, becomes)),
    ...(stateful ? [stateColumn] : []),
  ]
}

const markColumn = ({ offered, has, toggle, all }: Marking): Column<WriteRow> => ({
  key: 'choose',
  head: 'Choose',
  hidden: true,
  headCell: all && (
    <Checkbox
      aria-label={all.chosen === 'all' ? 'Choose none' : 'Choose all'}
      checked={all.chosen === 'all'}
      indeterminate={all.chosen === 'some'}
      onChange={all.toggle}
    />
  ),
  width: '22px',
  cell: (w) => {
    const act = offered(w)
    return act === null ? null : (
      <Checkbox
        aria-label={`${act === 'takeBack' ? 'Take back' : 'Send'} ${w.reference ?? w.targetKey}`}
        checked={has(w)}
        onChange={() => toggle(w)}
        onClick={(e) => e.stopPropagation()}
      />
    )
  },
})

/** One amount a record: old, new and how far it moves. */
function amountColumns(leading: ShownField | undefined, work: LaneWork, was: string, becomes: string): Changes {
  return [
    {
      key: 'old',
      head: leading?.unit ? `${was}, ${leading.unit}` : was,
      width: '84px',
      numeric: true,
      cell: (w) => <span className="struck">{value(w.old, leading?.type)}</span>,
    },
    {
      key: 'new',
      head: becomes,
      width: '72px',
      numeric: true,
      cell: (w) => <span className="strong">{value(w.new, leading?.type)}</span>,
    },
    {
      key: 'move',
      head: 'move',
      width: '78px',
      numeric: true,
      sort: 'move',
      cell: (w) => <span className={w.kind === 'down' ? 'minus' : undefined}>{move(w.move, work.moveUnit)}</span>,
    },
  ]
}

/** A record may change in many fields: the leading one is shown, old beside new, and how many more. */
function fieldColumns(fieldOf: FieldOf, was: string, becomes: string): Changes {
  return [
    {
      key: 'field',
      head: 'Field',
      width: '126px',
      cell: (w) => {
        const kind = kindWord(w)
        return (
          <span className="row" style={{ gap: 5 }}>
            {kind ? (
              <span className={`tag ${kind[1]}`}>{kind[0]}</span>
            ) : (
              <span className="clip">{labelOf(fieldOf(w.field, w.way), w.field)}</span>
            )}
            {w.fields > 1 && <span className="dim small">+{count(w.fields - 1)}</span>}
          </span>
        )
      },
    },
    {
      key: 'old',
      head: was,
      width: 'minmax(0, 1fr)',
      cell: (w) => (
        <span className="struck">
          <Differs text={w.old} beside={w.new} old />
        </span>
      ),
    },
    {
      key: 'new',
      head: becomes,
      width: 'minmax(0, 1fr)',
      cell: (w) => (
        <span className="strong">
          <Differs text={w.new} beside={w.old} />
        </span>
      ),
    },
  ]
}

const stateColumn: Column<WriteRow> = {
  key: 'state',
  head: 'State',
  hidden: true,
  width: '92px',
  cell: (w) => {
    const [word, tone] = stateWord(w)
    return word ? (
      <span className={`tag ${tone}`} title={(w.hold ?? w.fate)?.words ?? (w.guards ? guardWords(w.guards) : undefined)}>
        {word}
      </span>
    ) : null
  },
}
