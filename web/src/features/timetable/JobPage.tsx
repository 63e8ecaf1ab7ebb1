import { Button } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link, useNavigate, useParams } from '@tanstack/react-router'
import { api, take } from '../../shared/api'
import { count, dayAndClock, milliseconds, plural } from '../../shared/format'
import type { ViewOf } from '../../shared/listState'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'
import { Acts } from './Acts'
import { NextTimes } from './EffectWords'
import { History } from './History'
import { JobForm } from './JobForm'
import { begunBy, type Job, outcomeOf, type Turn, useAct, useStale } from './job'
import { Hours, Ribbon } from './Ribbon'
import { Standing } from './TimetablePage'
import { TurnLists } from './TurnLists'
import { useNow } from './useNow'

export function JobPage() {
  const { job: id } = useParams({ from: '/timetable/$job' })
  const [state, set] = useView('/timetable/$job')
  const job = useQuery(queries.job(id))
  return (
    <div className="page">
      <Loaded of={job}>
        {(data) => (
          <>
            <Head job={data} />
            {data.fault && <div className="note harm">{data.fault.words}</div>}
            {data.notice && <Notice job={data} words={data.notice.words} />}
            {state.tab === 'change' ? (
              <JobForm job={data} add={state.lane} done={() => set({ tab: undefined, lane: undefined })} />
            ) : (
              <Body job={data} state={state} set={set} />
            )}
          </>
        )}
      </Loaded>
    </div>
  )
}

function Head({ job }: { job: Job }) {
  return (
    <div className="page-head">
      <Link to="/timetable" search={{}} className="act">
        Timetable
      </Link>
      <h1 className="clip">{job.document.name}</h1>
      <Standing job={job} />
      <span className="grow" />
      <Acts job={job} />
    </div>
  )
}

function Notice({ job, words }: { job: Job; words: string }) {
  const act = useAct(job.id)
  return (
    <div className="note ochre">
      <span className="grow">{words}</span>
      <Button onClick={() => act.mutate({ kind: 'read' })}>I have read it</Button>
    </div>
  )
}

function Body({ job, state, set }: { job: Job; state: ViewOf<'/timetable/$job'>; set: (change: ViewOf<'/timetable/$job'>) => void }) {
  return (
    <>
      <Today job={job} />
      <div className="split" style={{ flex: 'none' }}>
        <Lanes job={job} />
        <section className="sheet pad stack" aria-label="When it runs">
          <span>{job.words}</span>
          {job.next.length > 0 ? (
            <ol className="plain-list mono small" aria-label="The next times">
              {job.next.map((at) => (
                <li key={at}>{dayAndClock(at)}</li>
              ))}
            </ol>
          ) : (
            <span className="dim">No time to come by the clock.</span>
          )}
          <NextTimes next={[]} zone={job.document.timetable?.zone ?? null} />
          <div className="row wrap">
            <Button variant="filled" onClick={() => set({ tab: 'change' })}>
              Change it
            </Button>
            <Remove job={job} />
          </div>
        </section>
      </div>
      <History job={job.id} atOnce={job.document.atOnce === true} />
      {state.row && <OneTurn job={job} id={Number(state.row)} close={() => set({ row: undefined })} />}
      <TurnLists state={state} set={set} job={job.id} />
    </>
  )
}

function Today({ job }: { job: Job }) {
  const view = useQuery({
    ...queries.timetable({ Job: job.id }),
    refetchInterval: 60_000,
  })
  const now = useNow(view.data?.now ?? new Date().toISOString())
  const ribbon = view.data?.jobs[0]
  return (
    <section className="sheet pad" aria-label="The day" style={{ minHeight: 84 }}>
      {view.data && ribbon && (
        <>
          <Hours view={view.data} />
          <Ribbon view={view.data} ribbon={ribbon} now={now} />
        </>
      )}
    </section>
  )
}

function Lanes({ job }: { job: Job }) {
  const steps = job.atWork?.steps ?? []
  return (
    <section className="sheet" aria-label="Lanes of the job">
      <h2>Its lanes, in their order</h2>
      {job.lanes.map((lane, i) => (
        <div key={lane.id} className="line" style={{ gridTemplateColumns: '20px minmax(0, 1fr) auto' }}>
          <span className="dim">{i + 1}</span>
          <span className="row" style={{ gap: 6 }}>
            <Link to="/lanes/$lane/preview" params={{ lane: lane.id }} search={{}} className="strong">
              {lane.name}
            </Link>
            <SystemMark system={lane.source} /> → <SystemMark system={lane.target} />
            {lane.fields && <span className="dim small clip">only {lane.fields.join(', ')}</span>}
          </span>
          <LaneState lane={lane} step={steps.find((s) => s.laneId === lane.id)} />
        </div>
      ))}
      <div className="line dim small">
        <span>Lanes that write to different systems run side by side; one that another depends on goes first.</span>
      </div>
    </section>
  )
}

function LaneState({ lane, step }: { lane: Job['lanes'][number]; step: Turn['steps'][number] | undefined }) {
  if (lane.removed) return <span className="tag harm">the lane was removed</span>
  if (step) return <StepTag step={step} />
  return lane.leftOut ? <span className="tag ochre">left out</span> : <span />
}

const stepWords: Record<Turn['steps'][number]['state'], [string, string]> = {
  waiting: ['waits for its turn', 'plain'],
  working: ['at work', 'plain'],
  done: ['done', 'glaze'],
  failed: ['failed', 'harm'],
  leftOut: ['left out', 'ochre'],
}

function StepTag({ step }: { step: Turn['steps'][number] }) {
  const [word, tone] = step.againAt ? [`tried again at ${dayAndClock(step.againAt)}`, 'ochre'] : stepWords[step.state]
  const tag = <span className={`tag ${tone}`}>{word}</span>
  return step.runId === null ? (
    tag
  ) : (
    <Link to="/runs/$run" params={{ run: String(step.runId) }} search={{}}>
      {tag}
    </Link>
  )
}

function OneTurn({ job, id, close }: { job: Job; id: number; close: () => void }) {
  const turns = useQuery(queries.turns({ Job: job.id, Turn: id })(0, 1))
  const turn = turns.data?.rows[0]
  if (!turn) return null
  const [word, tone] = outcomeOf(turn)
  return (
    <section className="sheet" aria-label="The turn">
      <div className="sheet-head">
        {`The turn of ${dayAndClock(turn.dueAt)}`}
        <span className={`tag ${tone}`}>{word}</span>
        <span className="dim small grow">
          {`by ${begunBy(turn)}`}
          {turn.times > 1 && `, for ${plural(turn.times, 'time')} until ${dayAndClock(turn.dueUntil)}`}
          {turn.records !== null && `, about ${plural(turn.records, 'record')}`}
          {turn.startedAt && turn.endedAt && `, ${milliseconds(Date.parse(turn.endedAt) - Date.parse(turn.startedAt))}`}
          {`, ${count(turn.written)} written`}
        </span>
        <button type="button" className="act" onClick={close}>
          Close
        </button>
      </div>
      {turn.steps.map((step) => (
        <div key={step.laneId} className="line" style={{ gridTemplateColumns: 'minmax(0, 1fr) auto' }}>
          <span>
            {step.lane}
            {step.why && <span className="dim small"> · {step.why.words}</span>}
            {step.tries > 1 && <span className="dim small"> · tried {plural(step.tries, 'time')}</span>}
          </span>
          <StepTag step={step} />
        </div>
      ))}
    </section>
  )
}

function Remove({ job }: { job: Job }) {
  const navigate = useNavigate()
  const stale = useStale()
  const back = useMutation({
    mutationFn: () => take(api.POST('/api/jobs/{id}/back', { params: { path: { id: job.id } } })),
    onSuccess: stale,
  })
  const remove = useMutation({
    mutationFn: () => take(api.DELETE('/api/jobs/{id}', { params: { path: { id: job.id } } })),
    onSuccess: () => {
      stale()
      notifications.show({
        message: (
          <span className="row">
            <span className="grow">{`“${job.document.name}” is removed; its lanes run by hand.`}</span>
            <button type="button" className="act" onClick={() => back.mutate()}>
              Bring it back
            </button>
          </span>
        ),
        autoClose: 15_000,
      })
      void navigate({ to: '/timetable', search: {} })
    },
  })
  return <Button onClick={() => remove.mutate()}>Remove the job</Button>
}
