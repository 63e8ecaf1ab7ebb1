import { SegmentedControl, Select } from '@mantine/core'
import { useNavigate } from '@tanstack/react-router'
import type { Schemas } from '../../shared/api'
import { count, dayAndClock, milliseconds, plural } from '../../shared/format'
import { LongTable } from '../../shared/LongTable'
import type { ViewOf } from '../../shared/listState'
import { queries } from '../../shared/queries'
import { Empty } from '../../shared/states'
import { begunBy, outcomeOf, type Turn } from './job'

const outcomes = [
  { value: 'done', label: 'done' },
  { value: 'failed', label: 'failed' },
  { value: 'missed', label: 'missed' },
  { value: 'skipped', label: 'left out by a person' },
  { value: 'paused', label: 'paused' },
  { value: 'atWork', label: 'still at work' },
]

type Turns = Pick<ViewOf<'/timetable'>, 'tab' | 'search' | 'kind' | 'store' | 'cause'>

/** What is coming, running and past, as lists. */
export function TurnLists({ state, set, job }: { state: Turns; set: (change: Turns) => void; job?: string }) {
  const tab = state.tab === 'coming' || state.tab === 'running' ? state.tab : 'past'
  const filter: Filter = { Q: state.search, Kind: state.kind, System: state.store, Job: job }
  return (
    <section className="sheet" aria-label="Turns" style={{ height: 330, display: 'flex', flexDirection: 'column', overflow: 'hidden' }}>
      <div className="row pad" style={{ paddingBottom: 8 }}>
        <SegmentedControl
          aria-label="Which turns"
          value={tab}
          onChange={(to) => set({ tab: to === 'past' ? undefined : to })}
          data={[
            { value: 'coming', label: 'Coming' },
            { value: 'running', label: 'Running' },
            { value: 'past', label: 'Past' },
          ]}
        />
        {tab === 'past' && (
          <Select
            aria-label="Outcome"
            placeholder="any outcome"
            clearable
            w={190}
            data={outcomes}
            value={state.cause ?? null}
            onChange={(cause) => set({ cause: cause ?? undefined })}
          />
        )}
      </div>
      {tab === 'coming' ? (
        <ComingTable filter={filter} />
      ) : (
        <TurnTable filter={{ ...filter, Outcome: tab === 'running' ? 'working' : (state.cause ?? 'past') }} />
      )}
    </section>
  )
}

type Filter = { Q?: string; Kind?: string; System?: string; Job?: string; Outcome?: string }

function ComingTable({ filter }: { filter: Filter }) {
  const navigate = useNavigate()
  return (
    <LongTable<Schemas['ComingTurn']>
      label="Coming turns"
      pages={queries.comingTurns(filter)}
      rowKey={(t) => `${t.jobId}${t.at}`}
      open={(t) => void navigate({ to: '/timetable/$job', params: { job: t.jobId }, search: {} })}
      columns={[
        { key: 'at', head: 'At', width: '150px', cell: (t) => dayAndClock(t.at) },
        { key: 'job', head: 'Job', width: 'minmax(0, 1fr)', cell: (t) => <span className="clip">{t.job}</span> },
        { key: 'zone', head: 'By the clock of', width: '180px', cell: (t) => t.zone ?? '' },
      ]}
      empty={<Empty title="Nothing is to come in the next 24 hours">Jobs without a timetable run at once or by hand.</Empty>}
    />
  )
}

function TurnTable({ filter }: { filter: Filter }) {
  const navigate = useNavigate()
  return (
    <LongTable<Turn>
      label="Turns"
      pages={queries.turns(filter)}
      rowKey={(t) => String(t.id)}
      open={(t) => void navigate({ to: '/timetable/$job', params: { job: t.jobId }, search: { row: String(t.id) } })}
      columns={[
        { key: 'at', head: 'Due', width: '120px', cell: (t) => dayAndClock(t.dueAt) },
        { key: 'job', head: 'Job', width: 'minmax(0, 1fr)', cell: (t) => <span className="clip">{t.job}</span> },
        { key: 'by', head: 'By', width: '120px', cell: begunBy },
        {
          key: 'outcome',
          head: 'Outcome',
          width: '230px',
          cell: (t) => {
            const [word, tone] = outcomeOf(t)
            return <span className={`tag ${tone}`}>{t.times > 1 ? `${word}, ${plural(t.times, 'time')}` : word}</span>
          },
        },
        {
          key: 'about',
          head: 'about',
          width: '100px',
          numeric: true,
          cell: (t) => (t.records === null ? 'everything' : plural(t.records, 'record')),
        },
        { key: 'written', head: 'written', width: '80px', numeric: true, cell: (t) => (t.outcome === 'notRun' ? '–' : count(t.written)) },
        {
          key: 'took',
          head: 'took',
          width: '90px',
          numeric: true,
          cell: (t) => (t.startedAt && t.endedAt ? milliseconds(Date.parse(t.endedAt) - Date.parse(t.startedAt)) : ''),
        },
      ]}
      empty={<Empty title="No turn here yet">What runs and what does not, and why, is kept here.</Empty>}
    />
  )
}
