import { Button, SegmentedControl, Select } from '@mantine/core'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Link, useNavigate } from '@tanstack/react-router'
import { useState } from 'react'
import { count, day, plural, shownOf, startOfDay, when } from '../../shared/format'
import type { ViewOf } from '../../shared/listState'
import { queries } from '../../shared/queries'
import { Search } from '../../shared/Search'
import { Empty, Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'
import { Acts } from './Acts'
import { DaysOff } from './DaysOff'
import { type JobRibbon, outcomeOf, type Timetable } from './job'
import { Hours, Ribbon } from './Ribbon'
import { TurnLists } from './TurnLists'
import { useNow } from './useNow'

export function TimetablePage() {
  const [state, set] = useView('/timetable')
  const navigate = useNavigate()
  const query = { day: state.on, days: state.show === 'week' ? 7 : 1, Q: state.search, Kind: state.kind, System: state.store }
  const timetable = useQuery({
    ...queries.timetable(query),
    placeholderData: keepPreviousData,
    refetchInterval: 60_000,
  })
  const [off, setOff] = useState(false)
  return (
    <div className="page">
      <div className="page-head">
        <h1>Timetable</h1>
        <span className="dim grow">
          {timetable.data && `${plural(timetable.data.total, 'job')} · the clock is that of ${timetable.data.timeZone}`}
        </span>
        <a className="act" href="/calendar/jobs.ics">
          Calendar feed
        </a>
        <Button onClick={() => setOff(true)}>Days off</Button>
        <Button variant="filled" onClick={() => void navigate({ to: '/timetable/new', search: {} })}>
          Make a job
        </Button>
      </div>
      <Tools state={state} set={set} view={timetable.data} />
      <Loaded of={timetable}>
        {(view) =>
          view.total === 0 && !state.search && !state.kind && !state.store ? (
            <NoJobs byHand={view.byHand.length} />
          ) : (
            <>
              <Ribbons view={view} />
              <TurnLists state={state} set={set} />
            </>
          )
        }
      </Loaded>
      <DaysOff opened={off} close={() => setOff(false)} />
    </div>
  )
}

function NoJobs({ byHand }: { byHand: number }) {
  return (
    <Empty title="Nothing runs by itself yet">
      <span>
        A job is a list of lanes, in their order, with one timetable. {byHand > 0 && `${plural(byHand, 'lane')} can be put into one.`}
      </span>
      <Link to="/timetable/new" search={{}} className="act">
        Make the first job
      </Link>
    </Empty>
  )
}

function Tools({
  state,
  set,
  view,
}: {
  state: ViewOf<'/timetable'>
  set: (change: ViewOf<'/timetable'>) => void
  view: Timetable | undefined
}) {
  const works = useQuery(queries.works())
  const systems = useQuery(queries.systems())
  const step = state.show === 'week' ? 7 : 1
  const move = (days: number) => view && set({ on: shownOf(startOfDay(view.from, days)).slice(0, 10) })
  return (
    <div className="row wrap tools">
      <SegmentedControl
        aria-label="How much"
        value={state.show === 'week' ? 'week' : 'day'}
        onChange={(show) => set({ show: show === 'week' ? 'week' : undefined })}
        data={[
          { value: 'day', label: 'Day' },
          { value: 'week', label: 'Week' },
        ]}
      />
      <Button aria-label="Earlier" onClick={() => move(-step)}>
        ‹
      </Button>
      <span className="strong" style={{ minWidth: 110, textAlign: 'center' }}>
        {view && (view.hours.length > 30 ? `from ${day(view.from)}` : day(view.from))}
      </span>
      <Button aria-label="Later" onClick={() => move(step)}>
        ›
      </Button>
      {state.on && (
        <button type="button" className="act" onClick={() => set({ on: undefined })}>
          Back to now
        </button>
      )}
      <span className="grow" />
      <Search label="Job" text={state.search ?? ''} search={(search) => set({ search })} w={150} />
      <Select
        aria-label="Kind"
        placeholder="any kind"
        clearable
        w={140}
        data={(works.data ?? []).map((w) => ({ value: w.kind, label: w.label }))}
        value={state.kind ?? null}
        onChange={(kind) => set({ kind: kind ?? undefined })}
      />
      <Select
        aria-label="System"
        placeholder="any system"
        clearable
        w={170}
        data={(systems.data ?? []).map((s) => ({ value: s.id, label: s.name }))}
        value={state.store ?? null}
        onChange={(store) => set({ store: store ?? undefined })}
      />
    </div>
  )
}

function Ribbons({ view }: { view: Timetable }) {
  const now = useNow(view.now)
  return (
    <section className="sheet" aria-label="Jobs">
      <div className="line job-line" style={{ borderTop: 0, paddingBottom: 0 }}>
        <span />
        <Hours view={view} />
        <span />
      </div>
      {view.jobs.map((ribbon) => (
        <JobLine key={ribbon.job.id} view={view} ribbon={ribbon} now={now} />
      ))}
      {view.jobs.length === 0 && <Empty title="No job matches">Take a filter away to see more.</Empty>}
      {view.total > view.jobs.length && (
        <div className="line dim">{`${count(view.total - view.jobs.length)} more jobs; search to see them.`}</div>
      )}
      {view.byHand.length > 0 && (
        <div className="line dim">
          <span>
            <Link to="/lanes" search={{}} className="act">
              {plural(view.byHand.length, 'lane')}
            </Link>{' '}
            in no job; they run by hand.
          </span>
        </div>
      )}
    </section>
  )
}

function JobLine({ view, ribbon, now }: { view: Timetable; ribbon: JobRibbon; now: number }) {
  const { job } = ribbon
  return (
    <div className="line job-line">
      <div style={{ minWidth: 0 }}>
        <div className="row" style={{ gap: 6 }}>
          <Link to="/timetable/$job" params={{ job: job.id }} search={{}} className="strong clip" title={job.words}>
            {job.document.name}
          </Link>
          {job.document.onTop && (
            <span className="dim" title="Kept at the top">
              ↑
            </span>
          )}
        </div>
        <Standing job={job} />
      </div>
      <Ribbon view={view} ribbon={ribbon} now={now} />
      <Acts job={job} slim />
    </div>
  )
}

/** In a line: what it is doing, what keeps it, or when it runs next. */
export function Standing({ job }: { job: JobRibbon['job'] }) {
  if (job.fault) return <span className="tag harm">its times cannot be told</span>
  if (job.atWork) {
    const done = job.atWork.steps.filter((s) => s.state !== 'waiting' && s.state !== 'working').length
    return <span className="tag plain">{`at work, ${done} of ${job.atWork.steps.length} lanes`}</span>
  }
  if (job.document.off) return <span className="tag plain">switched off</span>
  if (job.paused) return <span className="tag ochre">{job.pausedUntil ? `paused until ${when(job.pausedUntil)}` : 'paused'}</span>
  const last = job.last?.outcome === 'failed' ? outcomeOf(job.last)[0] : null
  return (
    <span className="dim small">
      {last && <span className="tag harm">last {last}</span>}{' '}
      {job.next[0] ? `next ${when(job.next[0])}` : job.document.atOnce ? 'at once' : 'by hand'}
      {job.skipNext > 0 && `, after ${plural(job.skipNext, 'time')} left out`}
    </span>
  )
}
