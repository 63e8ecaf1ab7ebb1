import { Button } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from '@tanstack/react-router'
import type { Schemas } from '../../shared/api'
import { Chips } from '../../shared/Chips'
import { clockSeconds, count, plural, sentence, when } from '../../shared/format'
import { LongTable } from '../../shared/LongTable'
import type { ViewOf } from '../../shared/listState'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'
import { useStop, useTryAgain } from './actions'
import { ChangeSet } from './ChangeSet'
import { SendQuestion } from './Decisions'
import { RunProgress } from './RunProgress'
import { outcome } from './RunsPage'
import { TrafficLine, Troubles } from './Traffic'

type RemarkRow = Schemas['RemarkRow']

export function RunPage() {
  const { run: id } = useParams({ from: '/runs/$run' })
  const run = useQuery(queries.run(Number(id)))
  return <Loaded of={run}>{(detail) => <View detail={detail} />}</Loaded>
}

function View({ detail }: { detail: Schemas['RunDetail'] }) {
  const { run } = detail
  const [state, set] = useView('/runs/$run')
  const stop = useStop(run.id)
  const [word, tone] = outcome(run)
  const { troubles } = detail
  return (
    <div className="page page-fixed">
      <div className="page-head">
        <h1>Run {run.id}</h1>
        <Link to="/lanes/$lane/preview" params={{ lane: run.laneId }}>
          {run.laneName}
        </Link>
        <SystemMark system={run.source} /> → <SystemMark system={run.target} />
        <span className={`tag ${tone}`}>{word}</span>
        <span className="dim small">
          {when(run.startedAt)} by {run.startedBy}, version {run.ruleNumber}
          {run.endedAt ? `, ended ${clockSeconds(run.endedAt)}` : ''}
        </span>
        {run.job && (
          <Link to="/timetable/$job" params={{ job: run.job.id }} search={{}} className="tag plain">
            {run.job.name}
          </Link>
        )}
        {run.looksAt !== null && <span className="tag plain">{`about ${plural(run.looksAt, 'record')} only`}</span>}
        {run.fields && <span className="tag plain">{`only ${run.fields.join(', ')}`}</span>}
        {run.rollsBack !== null && (
          <Link to="/runs/$run" params={{ run: String(run.rollsBack) }} search={{}} className="tag ochre">
            takes run {run.rollsBack} back
          </Link>
        )}
        <span className="grow" />
        {run.state === 'working' && (
          <Button loading={stop.isPending} onClick={() => stop.mutate()}>
            Stop
          </Button>
        )}
        {(run.state === 'failed' || (run.state === 'done' && run.writes.failed > 0)) && <Again run={run} />}
      </div>
      <TrafficLine run={run} />
      {run.why && (
        <div className={run.state === 'failed' ? 'note harm' : 'note'} role="alert">
          {run.why.words}
        </div>
      )}
      {(run.state === 'working' || (run.state === 'failed' && run.plannedAt === null)) && <RunProgress run={run} />}
      {(run.remarked > 0 || troubles > 0) && (
        <Chips
          label="What to show"
          slim
          chosen={state.tab ?? 'changes'}
          choose={(k) => set({ tab: k === 'changes' ? undefined : k, row: undefined, show: undefined, cause: undefined })}
          chips={[
            { key: 'changes', text: 'Changes', count: run.writes.total, always: true },
            { key: 'remarks', text: 'Not computed', count: run.remarked },
            { key: 'requests', text: 'Requests in trouble', count: troubles },
          ]}
        />
      )}
      {state.tab === 'requests' ? (
        <Troubles run={run} />
      ) : state.tab === 'remarks' ? (
        <Remarks detail={detail} cause={state.cause} set={set} />
      ) : (
        run.plannedAt && <ChangeSet detail={detail} state={state} set={set} />
      )}
    </div>
  )
}

/** Tries what did not get there once more; where nothing has been sent yet, there is nothing to ask. */
function Again({ run }: { run: Schemas['RunSummary'] }) {
  const again = useTryAgain(run.id)
  const { failed, planned, unknown } = run.writes
  const number = run.state === 'failed' ? failed + planned + unknown : failed
  const text = run.state === 'failed' ? 'Try the run again' : `Try the ${count(failed)} failed again`
  if (run.preview || number === 0)
    return (
      <Button loading={again.isPending} onClick={() => again.mutate()}>
        {text}
      </Button>
    )
  return (
    <SendQuestion
      text={text}
      run={run}
      number={number}
      busy={again.isPending}
      send={(done) => again.mutate(undefined, { onSuccess: done })}
    />
  )
}

function Remarks({
  detail,
  cause,
  set,
}: {
  detail: Schemas['RunDetail']
  cause: string | undefined
  set: (change: ViewOf<'/runs/$run'>) => void
}) {
  const run = detail.run.id
  return (
    <>
      <Chips
        label="Cause"
        slim
        chosen={cause ?? 'all'}
        choose={(k) => set({ cause: k === 'all' ? undefined : k })}
        chips={[
          { key: 'all', text: 'All', count: detail.run.remarked },
          ...detail.remarks.map((r) => ({ key: r.code, text: sentence(r.words), count: r.count })),
        ]}
      />
      <div className="sheet" style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
        <LongTable<RemarkRow>
          label="Records that could not be computed"
          pages={queries.remarks(run, cause)}
          rowKey={(r) => String(r.id)}
          columns={[
            { key: 'sku', head: 'SKU', width: '150px', cell: (r) => <span className="mono">{r.reference}</span> },
            { key: 'title', head: 'Item', width: '280px', cell: (r) => r.caption },
            { key: 'why', head: 'What is in the way', width: 'minmax(0, 1fr)', cell: (r) => r.why.words },
            {
              key: 'record',
              head: 'Record',
              width: '110px',
              cell: (r) => (
                <Link
                  to="/systems/$system"
                  params={{ system: detail.run.source.id }}
                  search={{ kind: 'item', search: r.sourceKey ?? '', row: r.sourceKey ?? undefined }}
                >
                  {r.sourceKey}
                </Link>
              ),
            },
          ]}
          empty={<Empty title="None">Every paired record could be computed.</Empty>}
        />
      </div>
    </>
  )
}
