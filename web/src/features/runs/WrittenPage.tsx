import { SegmentedControl } from '@mantine/core'
import { Link } from '@tanstack/react-router'
import type { Schemas } from '../../shared/api'
import { Differs } from '../../shared/Differs'
import { count, dayAndClock, value } from '../../shared/format'
import { type Column, LongTable } from '../../shared/LongTable'
import { Moment } from '../../shared/Moment'
import { queries } from '../../shared/queries'
import { Search } from '../../shared/Search'
import { SystemMark } from '../../shared/SystemMark'
import { Empty } from '../../shared/states'
import { useView } from '../../shared/useView'
import { stateWord } from './writeWords'

type Row = Schemas['WrittenRow']

const columns: Column<Row>[] = [
  { key: 'at', head: 'Sent', width: '118px', cell: (r) => dayAndClock(r.sentAt) },
  { key: 'to', head: 'To', width: '46px', cell: (r) => <SystemMark system={r.written} /> },
  { key: 'lane', head: 'Lane', width: '104px', cell: (r) => r.laneName },
  { key: 'sku', head: 'SKU', width: '128px', cell: (r) => <span className="mono">{r.write.reference}</span> },
  { key: 'title', head: 'Item', width: 'minmax(0, 1fr)', cell: (r) => r.write.caption },
  {
    key: 'old',
    head: 'before',
    width: 'minmax(0, 0.5fr)',
    cell: (r) => (
      <span className="struck">
        <Differs text={value(r.write.old)} beside={value(r.write.new)} old />
      </span>
    ),
  },
  {
    key: 'new',
    head: 'new',
    width: 'minmax(0, 0.5fr)',
    cell: (r) => (
      <span>
        <span className="strong">
          <Differs text={value(r.write.new)} beside={value(r.write.old)} />
        </span>
        {r.write.fields > 1 && <span className="dim small"> +{count(r.write.fields - 1)}</span>}
      </span>
    ),
  },
  {
    key: 'state',
    head: 'What became of it',
    width: '150px',
    cell: (r) => {
      const [word, tone] = stateWord(r.write)
      return (
        <span className={`tag ${tone}`} title={r.write.fate?.words}>
          {word}
        </span>
      )
    },
  },
  {
    key: 'run',
    head: 'Run',
    width: '70px',
    cell: (r) => (
      <Link to="/runs/$run" params={{ run: String(r.runId) }} search={{ row: String(r.write.id) }}>
        {r.runId}
      </Link>
    ),
  },
]

/** Every record that was sent, over all lanes and runs. */
export function WrittenPage() {
  const [state, set] = useView('/written')
  const query = { show: state.show, from: state.from, search: state.search }
  return (
    <div className="page page-fixed">
      <div className="page-head">
        <h1>What was written</h1>
        <span className="dim">record by record over all lanes, newest first</span>
      </div>
      <div className="row wrap tools">
        <SegmentedControl
          aria-label="Which"
          value={state.show ?? 'all'}
          onChange={(show) => set({ show: show === 'all' ? undefined : show })}
          data={[
            { value: 'all', label: 'All that was sent' },
            { value: 'confirmed', label: 'Confirmed' },
            { value: 'failed', label: 'Did not get there' },
          ]}
        />
        <Moment label="from" value={state.from} set={(from) => set({ from })} />
        <span className="grow" />
        <Search label="SKU or name" text={state.search ?? ''} search={(search) => set({ search })} />
      </div>
      <div className="sheet" style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
        <LongTable<Row>
          label="What was written"
          pages={queries.written(query)}
          rowKey={(r) => String(r.write.id)}
          columns={columns}
          empty={<Empty title="Nothing here">Nothing that was sent matches.</Empty>}
        />
      </div>
    </div>
  )
}
