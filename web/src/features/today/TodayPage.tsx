import { Button } from '@mantine/core'
import { Link, useNavigate } from '@tanstack/react-router'
import type { ReactNode } from 'react'
import { useReadSystem } from '../../shared/acts'
import type { LaneSummary, Schemas } from '../../shared/api'
import { DayLine } from '../../shared/DayLine'
import { age, count, day, share, when } from '../../shared/format'
import { harms, harmsNow, harmWords } from '../../shared/harms'
import { Ledger } from '../../shared/Ledger'
import type { ViewOf } from '../../shared/listState'
import { OpenTag } from '../../shared/OpenTag'
import { SystemMark } from '../../shared/SystemMark'
import { openOf } from '../../shared/standing'
import { Empty } from '../../shared/states'
import { timed } from '../../shared/timed'
import { toldSinceHere } from '../../shared/today'

type Today = Schemas['TodayView']

/** What does harm now and what waits; above it, what an unfinished workspace still needs. */
export function TodayPage({ today, next }: { today: Today; next: ReactNode }) {
  const read = useReadSystem()
  const hub = today.workspace.hub
  const all = [...(hub ? [hub] : []), ...today.systems]
  return (
    <div className="page">
      <div className="page-head">
        <h1>Today</h1>
        <span className="dim row" style={{ gap: 6 }}>
          {today.workspace.name} · {day(new Date().toISOString())}
          {hub && (
            <>
              {' '}
              · hub <SystemMark system={hub} /> {hub.name}
            </>
          )}
        </span>
        <span className="grow" />
        <Button
          disabled={all.length === 0}
          onClick={() => {
            for (const s of all) read.mutate({ system: s.id, full: false })
          }}
        >
          Read all systems
        </Button>
      </div>
      {next}
      {today.systems.length > 0 && (
        <>
          <Harm harms={today.harms} />
          <Matrix today={today} />
          <div style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 320px', gap: 14, alignItems: 'start' }}>
            <Waiting causes={today.causes} />
            <Since since={today.since} />
          </div>
        </>
      )}
    </div>
  )
}

function Matrix({ today }: { today: Today }) {
  const columns = `130px repeat(${Math.max(1, today.systems.length)}, minmax(0, 1fr))`
  return (
    <section className="sheet" aria-label="Record kinds by system">
      <div className="matrix" style={{ gridTemplateColumns: columns }}>
        <div />
        {today.systems.map((s) => (
          <Link
            key={s.id}
            to="/systems/$system"
            params={{ system: s.id }}
            className="row"
            style={{ padding: '9px 12px', textDecoration: 'none', gap: 7 }}
          >
            <SystemMark system={s} /> {s.name}
          </Link>
        ))}
        {today.rows.map((row) => (
          <div key={row.kind} style={{ display: 'contents' }}>
            <div className="matrix-cell strong" style={{ alignContent: 'center' }}>
              {row.label}
            </div>
            {today.systems.map((s) => {
              const lanes = row.lanes.filter((l) => l.target.id === s.id || l.source.id === s.id)
              return lanes.length > 0 ? (
                <div key={s.id} className="matrix-lanes">
                  {lanes.map((l) => (
                    <Cell key={l.id} lane={l} arrow={l.target.id === s.id ? '→' : '←'} line={today.lines[l.id]} />
                  ))}
                </div>
              ) : (
                <Link
                  key={s.id}
                  to="/lanes"
                  search={{ tab: 'new', kind: row.kind, store: s.id }}
                  className="matrix-cell dim"
                  style={{ placeContent: 'center' }}
                >
                  not set up
                </Link>
              )
            })}
          </div>
        ))}
      </div>
    </section>
  )
}

/** How a lane stands; the arrow says whether it flows from the hub or to it. Each number leads to what it counts. */
function Cell({ lane, arrow, line }: { lane: LaneSummary; arrow: string; line?: (number | null)[] }) {
  const { standing } = lane
  // Where there is a map, the lane begins with it.
  const unmapped = lane.nextStep === 'map'
  const part = (n: number) => `${standing.compared === 0 ? 0 : (n / standing.compared) * 100}%`
  if (lane.coupleId !== null && lane.links === 0)
    return (
      <Link to="/pair-desk/$couple" params={{ couple: String(lane.coupleId) }} className="matrix-cell">
        <span className="row wrap">
          <span className="tag clay">not paired yet</span>
          {lane.closedAt && <span className="tag ochre">closed</span>}
        </span>
        <span className="share" />
        <span className="dim small">{count(lane.unpairedThere)} records wait at the pair desk</span>
      </Link>
    )
  if (standing.runId === null || standing.isStale)
    return (
      <Link to={unmapped ? '/lanes/$lane/map' : '/lanes/$lane/preview'} params={{ lane: lane.id }} className="matrix-cell">
        <span className="row wrap">
          <span className="mono">{arrow}</span>
          <span className={`tag ${lane.off ? 'plain' : 'ochre'}`}>
            {lane.off ? 'off' : unmapped ? 'not mapped yet' : standing.isStale ? 'compare anew' : 'not compared yet'}
          </span>
        </span>
        <span className="share" />
        <span className="dim small">
          {lane.coupleId === null ? 'nothing is read of it yet' : `${count(lane.links)} pairs`}
          {standing.isStale && `, changed since ${when(standing.comparedAt)}`}
        </span>
      </Link>
    )
  return (
    <div className="matrix-cell">
      <span className="row wrap" style={{ gap: 6 }}>
        <Link to="/lanes/$lane/preview" params={{ lane: lane.id }} className="mono grow" style={{ whiteSpace: 'nowrap', flex: '1 0 auto' }}>
          {arrow} {share(standing.inStep, standing.compared)}
        </Link>
        {lane.off ? (
          <span className="tag plain">off</span>
        ) : lane.readyIsStopped ? (
          <span className="tag harm">stopped</span>
        ) : lane.closedAt ? (
          <span className="tag ochre">closed</span>
        ) : lane.workingRunId ? (
          <span className="tag plain">running</span>
        ) : null}
        {openOf(lane)
          .slice(0, 3)
          .map((o) => (
            <OpenTag key={o.key} open={o} />
          ))}
        {standing.compared > 0 && standing.open === 0 && <span className="tag glaze">in step</span>}
      </span>
      <span className="share" role="img" aria-label={`${count(standing.inStep)} of ${count(standing.compared)} records in step`}>
        <i style={{ width: part(standing.inStep), background: 'var(--glaze)' }} />
        <i style={{ width: part(standing.planned + standing.held), background: 'var(--ochre)' }} />
        <i style={{ width: part(standing.open - standing.planned - standing.held), background: 'var(--clay)' }} />
      </span>
      <span className="row" style={{ gap: 6 }}>
        <span className="dim small grow">
          <div>
            {count(standing.compared)} compared {when(standing.comparedAt)}
          </div>
          <div>{timed(lane)[0]}</div>
        </span>
        {line && <DayLine short from={0} to={1} days={line} label={`in step on the last 14 days: ${line.map(shareOf).join(', ')}`} />}
      </span>
    </div>
  )
}

const shareOf = (part: number | null) => (part === null ? 'not compared' : share(part * 1e6, 1e6))

/** What costs money or goodwill while nobody looks, a line for each harm; nothing where there is nothing. */
function Harm({ harms: now }: { harms: Today['harms'] }) {
  return now.length === 0 ? null : (
    <section className="sheet" aria-label="Does harm now">
      {now.map((h) => (
        <Link
          key={h.harm}
          to="/mismatches"
          search={{ harm: h.harm }}
          className="line harm-line"
          style={{ gridTemplateColumns: '104px minmax(0, 1fr) 170px 90px' }}
        >
          <span>
            <span className={`tag ${harms[h.harm][1]}`}>{harms[h.harm][0]}</span>
          </span>
          <span className="strong">{harmWords(h)}</span>
          <span className="row" style={{ gap: 4 }}>
            {h.systems.map((s) => (
              <SystemMark key={s.id} system={s} />
            ))}
          </span>
          <span className="num dim" title={`the oldest since ${when(h.since)}`}>
            {age(h.since)}
          </span>
        </Link>
      ))}
    </section>
  )
}

function Waiting({ causes }: { causes: Today['causes'] }) {
  const navigate = useNavigate()
  const waiting = causes.filter((c) => !harmsNow.has(c.harm))
  return (
    <Ledger slim title="Needs a decision" causes={waiting} open={(cause) => void navigate({ to: '/mismatches', search: { cause } })}>
      <Empty title="Nothing waits for you">What needs a person comes here by itself.</Empty>
    </Ledger>
  )
}

function Since({ since }: { since: Today['since'] }) {
  const from = since.from
  return (
    <section className="sheet" aria-labelledby="since">
      <h2 id="since">{toldSinceHere ? `Since you were here, ${when(from)}` : 'In the last 24 hours'}</h2>
      <SinceLine label="Records written and confirmed" n={since.written} to="/written" search={{ show: 'confirmed', from }} />
      <SinceLine label="Records that did not get there" n={since.writesFailed} bad to="/written" search={{ show: 'failed', from }} />
      <SinceLine label="Mismatches settled" n={since.settled} to="/mismatches" search={{ show: 'settled', from }} />
      <SinceLine label="Gone by themselves" n={since.gone} to="/mismatches" search={{ show: 'gone', from }} />
      <SinceLine label="New, and open" n={since.new} to="/mismatches" search={{ from }} />
      <SinceLine label="Runs done" n={since.runsDone} to="/runs" search={{ show: 'done', from }} />
      <SinceLine label="Runs that failed" n={since.runsFailed} bad to="/runs" search={{ show: 'failed', from }} />
    </section>
  )
}

function SinceLine(props: {
  label: string
  n: number
  bad?: boolean
  to: '/written' | '/runs' | '/mismatches'
  search: Pick<ViewOf<'/mismatches'>, 'show' | 'from'>
}) {
  return (
    <Link to={props.to} search={props.search} className="line" style={{ gridTemplateColumns: '1fr auto', textDecoration: 'none' }}>
      <span>{props.label}</span>
      <span className={props.bad && props.n > 0 ? 'num strong minus' : 'num strong'}>{count(props.n)}</span>
    </Link>
  )
}
