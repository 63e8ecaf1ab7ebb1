import { Button } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useReadSystem } from '../../shared/acts'
import type { Schemas } from '../../shared/api'
import { count, when } from '../../shared/format'
import { useHappening } from '../../shared/live'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import { useStopReading, useTestSystem } from './actions'
import { RemovedSystems } from './Removed'

export type System = Schemas['SystemSummary']

export const kinds: Record<System['kind'], string> = {
  erp: 'ERP',
  pointOfSale: 'point of sale',
  webStore: 'web store',
  marketplace: 'marketplace',
  supplier: 'supplier',
}

export function SystemsPage() {
  const systems = useQuery(queries.systems())
  return (
    <div className="page">
      <div className="page-head">
        <h1>Systems</h1>
        <span className="dim">what is connected, whether it answers, what was read of it</span>
        <span className="grow" />
        <Button component={Link} to="/systems/new">
          Add a system
        </Button>
      </div>
      <Loaded of={systems}>
        {(all) =>
          all.length === 0 ? (
            <Empty title="No system yet">Add the hub first, then what should be in step with it.</Empty>
          ) : (
            all.map((system) => <SystemSheet key={system.id} system={system} />)
          )
        }
      </Loaded>
      <RemovedSystems />
    </div>
  )
}

function SystemSheet({ system }: { system: System }) {
  const test = useTestSystem()
  const read = useReadSystem()
  return (
    <section className="sheet" aria-label={system.name}>
      <div className="sheet-head row">
        <SystemMark system={system} />
        <Link to="/systems/$system" params={{ system: system.id }} className="strong">
          {system.name}
        </Link>
        <span className="dim" style={{ fontWeight: 400, fontSize: 14 }}>
          {kinds[system.kind]}
          {system.isHub ? ', the hub' : ''} · {system.currency}
        </span>
        <Reach system={system} />
        <span className="grow" />
        <Button loading={test.isPending} onClick={() => test.mutate(system.id)}>
          Test
        </Button>
        <Button onClick={() => read.mutate({ system: system.id, full: false })}>Read changes</Button>
        <Button onClick={() => read.mutate({ system: system.id, full: true })}>Read everything</Button>
      </div>
      <ReadLines system={system} />
      {system.testMessage && (
        <div className="line small" style={{ gridTemplateColumns: '130px 1fr' }}>
          <span className="dim">Tested {when(system.testedAt)}</span>
          <span className={system.testOk ? undefined : 'minus'}>{system.testMessage}</span>
        </div>
      )}
    </section>
  )
}

export function Reach({ system }: { system: System }) {
  if (system.pausedAt) return <span className="tag ochre">paused</span>
  if (system.testOk === null || system.testOk === undefined) return <span className="tag plain">not tested</span>
  return system.testOk ? <span className="tag glaze">answers</span> : <span className="tag harm">does not work</span>
}

function howItEnded(read: System['reads'][number]) {
  if (read.state === 'never') return 'not read yet'
  if (read.state === 'failed') return `failed ${when(read.endedAt)}: ${read.message}`
  const what = read.full ? 'read in full' : 'changes read'
  const gone = read.gone ? `, ${count(read.gone)} gone` : ''
  return `${what} ${when(read.endedAt)}: ${count(read.changed)} new or different${gone}`
}

export function ReadLines({ system }: { system: System }) {
  const happening = useHappening('read', system.id)
  const stop = useStopReading()
  return system.reads.map((r) => {
    const at = happening?.phase?.startsWith(`${r.kind.toLowerCase()}:`) ? happening : undefined
    const reading = r.state === 'reading' || at?.phase?.endsWith(':reading')
    return (
      <div key={r.kind} className="line" style={{ gridTemplateColumns: '130px 140px 150px minmax(0, 1fr)' }} data-kind={r.kind}>
        <span>{r.label}</span>
        <Link to="/systems/$system" params={{ system: system.id }} search={{ kind: r.kind }} className="num" style={{ textAlign: 'left' }}>
          {count(r.records)} records
        </Link>
        {r.troubled > 0 ? (
          <Link to="/systems/$system" params={{ system: system.id }} search={{ kind: r.kind, show: 'troubled' }}>
            <span className="tag clay">{count(r.troubled)} not as described</span>
          </Link>
        ) : (
          <span className="dim small">{r.records > 0 && r.unkept === 0 ? 'all as described' : ''}</span>
        )}
        {reading ? (
          <div role="status">
            <span className="small">
              reading, {count(at?.done ?? r.done)} so far{' '}
              <button type="button" className="act" onClick={() => stop.mutate(system.id)}>
                Stop
              </button>
            </span>
            <div className="progress">
              <i style={{ width: `${Math.min(100, ((at?.done ?? r.done) / Math.max(1, r.records)) * 100)}%` }} />
            </div>
          </div>
        ) : (
          <span className={r.state === 'failed' ? 'small minus' : 'small dim'}>
            {r.unkept > 0 && (
              <Link to="/systems/$system" params={{ system: system.id }} search={{ kind: r.kind, show: 'unkept' }}>
                <span className="tag harm">{count(r.unkept)} not kept</span>
              </Link>
            )}{' '}
            {howItEnded(r)}
          </span>
        )}
      </div>
    )
  })
}
