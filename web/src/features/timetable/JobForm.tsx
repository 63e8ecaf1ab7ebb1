import { Button, Checkbox, Chip, Group, NumberInput, SegmentedControl, Select, TagsInput, TextInput } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { useState } from 'react'
import { api, type LaneSummary, type Schemas, take } from '../../shared/api'
import { queries, trials } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Failed, Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'
import { Advisor } from './Advisor'
import { EffectWords } from './EffectWords'
import { type Job, type JobDocument, useStale } from './job'
import { Requests } from './Requests'

type Times = NonNullable<JobDocument['timetable']>
type Weekday = Schemas['Weekday']

const weekdays: Weekday[] = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun']

/** A new job; what the address names is in it already. */
export function NewJobPage() {
  const [{ lane }] = useView('/timetable/new')
  return (
    <div className="page">
      <div className="page-head">
        <h1>A new job</h1>
        <span className="dim">lanes in their order, with one timetable</span>
      </div>
      <JobForm add={lane} />
    </div>
  )
}

export function JobForm({ job, add, done }: { job?: Job; add: string | undefined; done?: () => void }) {
  const lanes = useQuery(queries.lanes())
  const jobs = useQuery(queries.jobs())
  const workspace = useQuery(queries.workspace())
  return (
    <Loaded of={lanes}>
      {(all) =>
        workspace.data && jobs.data ? (
          <Form
            key={job?.id ?? 'new'}
            job={job}
            lanes={all.filter((l) => !l.job || l.job.id === job?.id)}
            begin={job ? withLane(job.document, add) : blank(all, add, workspace.data.settings?.timeZone ?? 'UTC')}
            zones={workspace.data.timeZones}
            done={done}
          />
        ) : null
      }
    </Loaded>
  )
}

const withLane = (document: JobDocument, add: string | undefined): JobDocument =>
  add && !document.lanes.some((l) => l.lane === add) ? { ...document, lanes: [...document.lanes, { lane: add, fields: null }] } : document

/** What a job begins with: every five minutes, and at once where a webhook may tell of something. */
function blank(lanes: LaneSummary[], add: string | undefined, zone: string): JobDocument {
  const lane = lanes.find((l) => l.id === add)
  return {
    name: lane ? `${lane.name}, ${lane.source.mark} → ${lane.target.name}`.slice(0, 60) : '',
    timetable: { zone, at: null, every: { minutes: 5, from: null, to: null }, days: null, except: null, starts: null, ends: null },
    lanes: lane ? [{ lane: lane.id, fields: null }] : [],
    whenAtWork: 'wait',
    whenMissed: 'once',
    whenFailed: 'goOn',
    againAfterMinutes: 5,
    againTimes: 2,
    atOnce: true,
    lookEverySeconds: null,
    off: false,
    onTop: false,
  }
}

function Form(props: { job?: Job; lanes: LaneSummary[]; begin: JobDocument; zones: string[]; done?: () => void }) {
  const { job, lanes, begin, zones } = props
  const navigate = useNavigate()
  const stale = useStale()
  const [draft, setDraft] = useState(begin)
  const change = (some: Partial<JobDocument>) => setDraft({ ...draft, ...some })
  const [settled] = useDebouncedValue(draft, 150)
  const effect = useQuery({
    ...trials.job(job?.id, settled),
    placeholderData: keepPreviousData,
  })
  const save = useMutation({
    mutationFn: () =>
      job
        ? take(api.PUT('/api/jobs/{id}', { params: { path: { id: job.id } }, body: draft })).then(() => ({ id: job.id }))
        : take(api.POST('/api/jobs', { body: draft })),
    onSuccess: ({ id }) => {
      stale()
      if (props.done) props.done()
      else void navigate({ to: '/timetable/$job', params: { job: id }, search: {} })
    },
  })
  return (
    <div className="split">
      <div className="stack">
        <section className="sheet pad stack">
          <TextInput label="Name" value={draft.name} onChange={(e) => change({ name: e.currentTarget.value })} maxLength={60} />
          <LaneList lanes={lanes} chosen={draft.lanes} set={(chosen) => change({ lanes: chosen })} />
        </section>
        <section className="sheet pad stack" aria-label="Times">
          <WhenForm times={draft.timetable ?? null} zone={begin.timetable?.zone} zones={zones} set={(timetable) => change({ timetable })} />
          <AtOnce draft={draft} change={change} />
        </section>
        <Habits draft={draft} change={change} />
        {effect.isSuccess && <Advisor id={job?.id ?? null} document={settled} choose={change} />}
      </div>
      <aside className="side stack" aria-label="What follows">
        <section className="sheet pad stack">
          {effect.isError ? <Failed error={effect.error} /> : effect.data && <EffectWords effect={effect.data} />}
          <Button variant="filled" disabled={effect.isError} loading={save.isPending} onClick={() => save.mutate()}>
            {job ? 'Keep it so' : 'Make the job'}
          </Button>
          {props.done && <Button onClick={props.done}>Leave it as it was</Button>}
          {save.isError && <Failed error={save.error} />}
        </section>
        {effect.data && !effect.isError && <Requests requests={effect.data.requests} />}
      </aside>
    </div>
  )
}

type Entry = JobDocument['lanes'][number]

function LaneList({ lanes, chosen, set }: { lanes: LaneSummary[]; chosen: Entry[]; set: (to: Entry[]) => void }) {
  const free = lanes.filter((l) => !chosen.some((c) => c.lane === l.id))
  const swap = (i: number, j: number) => set(chosen.map((c, k) => (k === i ? chosen[j] : k === j ? chosen[i] : c) as Entry))
  return (
    <div className="stack" style={{ gap: 4 }}>
      <span className="strong small">Lanes, in the order in which they go</span>
      {chosen.map((entry, i) => {
        const lane = lanes.find((l) => l.id === entry.lane)
        const name = lane ? `${lane.name} to ${lane.target.name}` : entry.lane
        return (
          <div key={entry.lane} className="row" style={{ gap: 6 }}>
            <span className="dim" style={{ width: 18 }}>
              {i + 1}
            </span>
            <span className="row grow" style={{ gap: 6 }}>
              <span>{lane?.name ?? entry.lane}</span>
              {lane && (
                <>
                  <SystemMark system={lane.source} /> → <SystemMark system={lane.target} />
                </>
              )}
              {entry.fields && <span className="dim small">only {entry.fields.join(', ')}</span>}
            </span>
            {lane?.work.steps.some((s) => s.key === 'map') && (
              <Part entry={entry} set={(to) => set(chosen.map((c) => (c === entry ? to : c)))} />
            )}
            <Button size="compact-sm" aria-label={`${name} earlier`} disabled={i === 0} onClick={() => swap(i, i - 1)}>
              ↑
            </Button>
            <Button size="compact-sm" aria-label={`${name} later`} disabled={i === chosen.length - 1} onClick={() => swap(i, i + 1)}>
              ↓
            </Button>
            <Button size="compact-sm" aria-label={`Take ${name} out`} onClick={() => set(chosen.filter((c) => c !== entry))}>
              ×
            </Button>
          </div>
        )
      })}
      <Select
        aria-label="Add a lane"
        placeholder={free.length > 0 ? 'Add a lane' : 'every other lane is in a job'}
        searchable
        value={null}
        data={free.map((l) => ({ value: l.id, label: `${l.name}: ${l.source.name} → ${l.target.name}` }))}
        onChange={(id) => id && set(inOrder([...chosen, { lane: id, fields: null }], lanes))}
      />
    </div>
  )
}

/** Orders before stock, unless somebody has moved them: a lane that is added goes behind the last one that comes before its kind. */
function inOrder(entries: Entry[], lanes: LaneSummary[]) {
  const added = entries.at(-1) as Entry
  const place = (e: Entry) => lanes.find((l) => l.id === e.lane)?.work.placeInJob ?? 0
  const before = entries.slice(0, -1)
  const at = before.findIndex((e) => place(e) > place(added))
  return at < 0 ? entries : [...before.slice(0, at), added, ...before.slice(at)]
}

/** Only some of the fields that a map writes. */
function Part({ entry, set }: { entry: Entry; set: (to: Entry) => void }) {
  const [open, setOpen] = useState(entry.fields !== null)
  return open ? (
    <TagsInput
      aria-label="Only these fields"
      placeholder="fields of the target"
      size="xs"
      w={190}
      value={entry.fields ?? []}
      onChange={(fields) => set({ ...entry, fields: fields.length > 0 ? fields : null })}
    />
  ) : (
    <button type="button" className="act small" onClick={() => setOpen(true)}>
      only a part
    </button>
  )
}

type Way = 'every' | 'at' | 'none'

function WhenForm(props: { times: Times | null; zone: string | undefined; zones: string[]; set: (to: Times | null) => void }) {
  const { times, zones, set } = props
  const way: Way = times === null ? 'none' : times.at ? 'at' : 'every'
  const blankTimes = { zone: times?.zone ?? props.zone ?? 'UTC', at: null, every: null, days: null, except: null, starts: null, ends: null }
  const turn = (to: Way) =>
    set(
      to === 'none'
        ? null
        : {
            ...(times ?? blankTimes),
            at: to === 'at' ? ['06:30'] : null,
            every: to === 'every' ? { minutes: 15, from: null, to: null } : null,
          },
    )
  return (
    <>
      <SegmentedControl
        aria-label="When"
        value={way}
        onChange={(to) => turn(to as Way)}
        data={[
          { value: 'every', label: 'In equal steps' },
          { value: 'at', label: 'At clock times' },
          { value: 'none', label: 'Not by the clock' },
        ]}
      />
      {times && (
        <>
          {times.every && <StepsForm every={times.every} set={(every) => set({ ...times, every })} />}
          {times.at && (
            <TagsInput
              label="Clock times"
              description="As 06:30; Enter adds one"
              value={times.at}
              onChange={(at) => set({ ...times, at })}
              acceptValueOnBlur
            />
          )}
          <Days days={times.days ?? null} set={(days) => set({ ...times, days })} />
          <div className="row wrap" style={{ alignItems: 'end' }}>
            <Select
              label="By the clock of"
              searchable
              allowDeselect={false}
              data={zones.includes(times.zone) ? zones : [times.zone, ...zones]}
              value={times.zone}
              onChange={(zone) => zone && set({ ...times, zone })}
            />
            <TextInput
              label="From the day"
              type="date"
              value={times.starts ?? ''}
              onChange={(e) => set({ ...times, starts: e.currentTarget.value || null })}
            />
            <TextInput
              label="Until the day"
              type="date"
              value={times.ends ?? ''}
              onChange={(e) => set({ ...times, ends: e.currentTarget.value || null })}
            />
          </div>
          <TagsInput
            label="Not on these days"
            description="As 2026-12-24; Enter adds one"
            value={times.except ?? []}
            onChange={(except) => set({ ...times, except: except.length > 0 ? except : null })}
            acceptValueOnBlur
          />
        </>
      )}
    </>
  )
}

function StepsForm({ every, set }: { every: NonNullable<Times['every']>; set: (to: NonNullable<Times['every']>) => void }) {
  const bounded = every.from !== null
  return (
    <div className="row wrap" style={{ alignItems: 'center' }}>
      Every
      <NumberInput
        aria-label="Minutes"
        value={every.minutes}
        onChange={(v) => set({ ...every, minutes: Number(v) || 0 })}
        min={1}
        max={1440}
        w={84}
        allowDecimal={false}
      />
      minutes
      <Checkbox
        label="only between"
        checked={bounded}
        onChange={(e) => set({ ...every, ...(e.currentTarget.checked ? { from: '06:00', to: '22:00' } : { from: null, to: null }) })}
      />
      {bounded && (
        <>
          <TextInput
            aria-label="From"
            type="time"
            value={every.from ?? ''}
            onChange={(e) => set({ ...every, from: e.currentTarget.value })}
          />
          and
          <TextInput aria-label="To" type="time" value={every.to ?? ''} onChange={(e) => set({ ...every, to: e.currentTarget.value })} />
        </>
      )}
    </div>
  )
}

function Days({ days, set }: { days: Weekday[] | null; set: (to: Weekday[] | null) => void }) {
  return (
    <Chip.Group
      multiple
      value={days ?? weekdays}
      onChange={(chosen) => set(chosen.length === weekdays.length ? null : weekdays.filter((d) => chosen.includes(d)))}
    >
      <Group gap={6} role="group" aria-label="Days of the week">
        {weekdays.map((d) => (
          <Chip key={d} value={d} size="xs" variant="outline" color="var(--glaze)">
            {d[0]?.toUpperCase() + d.slice(1)}
          </Chip>
        ))}
      </Group>
    </Chip.Group>
  )
}

type Change = (some: Partial<JobDocument>) => void

function AtOnce({ draft, change }: { draft: JobDocument; change: Change }) {
  return (
    <div className="row wrap">
      <Checkbox
        label="Also at once, when something happens that it is about"
        description="A signed webhook, a file that arrives, or what another job wrote; only the records concerned are looked at"
        checked={draft.atOnce}
        onChange={(e) => change({ atOnce: e.currentTarget.checked, lookEverySeconds: null })}
      />
      {draft.atOnce && (
        <span className="row">
          <Checkbox
            label="and look for changes every"
            checked={draft.lookEverySeconds !== null}
            onChange={(e) => change({ lookEverySeconds: e.currentTarget.checked ? 5 : null })}
          />
          {draft.lookEverySeconds !== null && (
            <>
              <NumberInput
                aria-label="Seconds"
                value={draft.lookEverySeconds}
                onChange={(v) => change({ lookEverySeconds: Number(v) || 0 })}
                min={2}
                max={3600}
                w={80}
                allowDecimal={false}
              />
              seconds
            </>
          )}
        </span>
      )}
    </div>
  )
}

function Habits({ draft, change }: { draft: JobDocument; change: Change }) {
  return (
    <section className="sheet pad field-grid" aria-label="If things go otherwise" style={{ gridTemplateColumns: '250px minmax(0, 1fr)' }}>
      <span>Its last turn is still at work</span>
      <Select
        aria-label="Its last turn is still at work"
        allowDeselect={false}
        data={[
          { value: 'wait', label: 'wait for its end, then run once' },
          { value: 'skip', label: 'leave this time out' },
        ]}
        value={draft.whenAtWork}
        onChange={(v) => change({ whenAtWork: v as JobDocument['whenAtWork'] })}
      />
      <span>Times passed while Narbit was not running</span>
      <Select
        aria-label="Times passed while Narbit was not running"
        allowDeselect={false}
        data={[
          { value: 'once', label: 'make up for them once' },
          { value: 'none', label: 'wait for the next time' },
        ]}
        value={draft.whenMissed}
        onChange={(v) => change({ whenMissed: v as JobDocument['whenMissed'] })}
      />
      <span>A lane fails</span>
      <Select
        aria-label="A lane fails"
        allowDeselect={false}
        data={[
          { value: 'goOn', label: 'go on with the others' },
          { value: 'stop', label: 'stop; lanes that have not begun stay where they are' },
          { value: 'again', label: 'try it again' },
        ]}
        value={draft.whenFailed}
        onChange={(v) => change({ whenFailed: v as JobDocument['whenFailed'] })}
      />
      {draft.whenFailed === 'again' && (
        <>
          <span />
          <span className="row">
            after
            <NumberInput
              aria-label="Minutes before it is tried again"
              value={draft.againAfterMinutes}
              onChange={(v) => change({ againAfterMinutes: Number(v) || 0 })}
              min={1}
              max={1440}
              w={80}
            />
            minutes, up to
            <NumberInput
              aria-label="How often it is tried again"
              value={draft.againTimes}
              onChange={(v) => change({ againTimes: Number(v) || 0 })}
              min={1}
              max={20}
              w={70}
            />
            times
          </span>
        </>
      )}
    </section>
  )
}
