import { Button, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import { api, type Schemas, take } from '../../shared/api'
import { DayLine } from '../../shared/DayLine'
import { count, exactShare, when } from '../../shared/format'
import { useHappening } from '../../shared/live'
import { queries, useRenew } from '../../shared/queries'
import { SheetLinks } from '../../shared/SheetLinks'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Failed, Loaded } from '../../shared/states'
import { findings, type Proof, sum } from './proof'

type Proofs = Schemas['ProofsView']
type ProvedLane = Schemas['ProvedLane']

/** How far everything is in step, by comparing all of it afresh: lane by lane, day by day. */
export function ProofsPage() {
  const proofs = useQuery(queries.proofs())
  return (
    <div className="page">
      <Loaded of={proofs}>{(view) => <View view={view} />}</Loaded>
    </div>
  )
}

function View({ view }: { view: Proofs }) {
  const renew = useRenew()
  const begin = useMutation({
    mutationFn: () => take(api.POST('/api/proofs')),
    onSettled: () => void renew('proofs'),
  })
  const latest = view.lanes.flatMap((l) => (l.latest ? [l.latest] : []))
  return (
    <>
      <div className="page-head">
        <h1>Proof of step</h1>
        <span className="dim">every lane compared in full, both sides read afresh; nothing is written</span>
        <span className="grow" />
        <SheetLinks file={(form) => `/api/proofs.${form}`} />
        <Button variant="filled" loading={view.atWork || begin.isPending} onClick={() => begin.mutate()} disabled={view.lanes.length === 0}>
          Compare all now
        </Button>
      </div>
      {begin.isError && <Failed error={begin.error} />}
      {view.atWork && <AtWork lanes={view.lanes} />}
      {latest.length > 0 && <Whole proofs={latest} />}
      <section className="sheet" aria-label="Lanes">
        {view.lanes.length > 0 && (
          <div className="line dim small" style={{ gridTemplateColumns: columns }}>
            <span>Lane</span>
            <span>From, to</span>
            <span style={{ textAlign: 'right' }}>Records in step</span>
            <span style={{ textAlign: 'right' }}>Fields in step</span>
            <span>What is not</span>
            <span style={{ textAlign: 'right' }}>14 days</span>
          </div>
        )}
        {view.lanes.length === 0 && (
          <Empty title="No lane to compare">
            <Link to="/lanes" search={{ tab: 'new' }}>
              Make a lane
            </Link>{' '}
            first; then everything that flows in it can be compared here.
          </Empty>
        )}
        {[...view.lanes].sort(byNeed).map((lane) => (
          <Row key={lane.laneId} lane={lane} />
        ))}
      </section>
      <AtNight at={view.at} />
    </>
  )
}

/** What is least in step comes first, what could not be compared last. */
function byNeed(a: ProvedLane, b: ProvedLane) {
  const need = ({ latest }: ProvedLane) => (latest && latest.records > 0 ? latest.recordsInStep / latest.records : 2)
  return need(a) - need(b)
}

const columns = '130px 76px 148px 148px minmax(0, 1fr) 98px'

/** What a round has come to. */
function AtWork({ lanes }: { lanes: ProvedLane[] }) {
  const now = useHappening('proof', 'all')
  const lane = lanes.find((l) => l.laneId === now?.phase)
  return (
    <div className="note" role="status">
      {lane && now?.total ? (
        <>
          Comparing {lane.lane}, {lane.source.name} to {lane.target.name}: lane {(now.done ?? 0) + 1} of {now.total}
        </>
      ) : (
        'Reading and comparing'
      )}
    </div>
  )
}

function Whole({ proofs }: { proofs: Proof[] }) {
  const all = sum(proofs)
  const oldest = proofs.map((p) => p.at).sort()[0]
  return (
    <section className="sheet pad row wrap" aria-label="All lanes" style={{ gap: 34 }}>
      <Figure value={exactShare(all.inStep, all.records)} words={`of ${count(all.records)} records in step`} />
      <Figure value={exactShare(all.fieldsInStep, all.fields)} words={`of ${count(all.fields)} fields in step`} />
      {findings.slice(0, 2).map((f) => {
        const n = proofs.reduce((total, p) => total + f.of(p), 0)
        return (
          <Figure
            key={f.finding}
            value={count(n)}
            words={n === 1 ? `field ${f.word}` : `fields ${f.word}`}
            tone={n > 0 ? f.tone : undefined}
          />
        )
      })}
      <span className="grow" />
      <span className="dim small">compared {when(oldest)}</span>
    </section>
  )
}

function Figure({ value, words, tone }: { value: string; words: string; tone?: string }) {
  return (
    <span className="stack" style={{ gap: 0 }}>
      <span style={{ fontSize: 26, fontWeight: 650, color: tone ? `var(--${tone})` : undefined }}>{value}</span>
      <span className="dim small">{words}</span>
    </span>
  )
}

function Row({ lane }: { lane: ProvedLane }) {
  const proof = lane.latest
  const days = lane.days.map((d) => d.share)
  const words = lane.days.map((d) => `${d.day.slice(5)} ${d.share === null ? 'not compared' : exactShare(d.share * 1e6, 1e6)}`).join(', ')
  return (
    <div className="line" style={{ gridTemplateColumns: columns }}>
      {proof ? (
        <Link to="/proof/$proof" params={{ proof: String(proof.id) }} className="strong clip">
          {lane.lane}
        </Link>
      ) : (
        <span className="strong clip">{lane.lane}</span>
      )}
      <span className="row" style={{ gap: 4 }}>
        <SystemMark system={lane.source} /> <SystemMark system={lane.target} />
      </span>
      {proof === null ? (
        <span className="dim" style={{ gridColumn: 'span 3' }}>
          not compared yet
        </span>
      ) : proof.why !== null ? (
        <span className="dim" style={{ gridColumn: 'span 3' }}>
          {proof.why}
        </span>
      ) : (
        <>
          <Share part={proof.recordsInStep} whole={proof.records} />
          <Share part={proof.fieldsInStep} whole={proof.fields} />
          <span className="row wrap" style={{ gap: 5 }}>
            <Found proof={proof} />
          </span>
        </>
      )}
      <DayLine days={days} label={words} from={0} to={1} />
    </div>
  )
}

function Share({ part, whole }: { part: number; whole: number }) {
  return (
    <span className="num">
      <span className="strong">{exactShare(part, whole)}</span> <span className="dim small">of {count(whole)}</span>
    </span>
  )
}

/** How many a proof has of each finding, each leading to exactly these. */
export function Found({ proof }: { proof: Proof }) {
  const some = findings.filter((f) => f.of(proof) > 0)
  if (some.length === 0) return <span className="tag glaze">all in step</span>
  return some.map((f) => (
    <Link
      key={f.finding}
      to="/proof/$proof"
      params={{ proof: String(proof.id) }}
      search={{ show: f.finding }}
      className={`tag ${f.tone}`}
      style={{ textDecoration: 'none' }}
    >
      {count(f.of(proof))} {f.word}
    </Link>
  ))
}

function AtNight({ at }: { at: string | null }) {
  const [time, setTime] = useState(at ?? '03:10')
  const renew = useRenew()
  const keep = useMutation({
    mutationFn: (body: Schemas['ProofTime']) => take(api.PUT('/api/proofs/time', { body })),
    onSuccess: (_, body) =>
      notifications.show({ color: 'var(--glaze)', message: body.at ? `Every day at ${body.at}.` : 'Only when somebody asks.' }),
    onSettled: () => void renew('proofs'),
  })
  return (
    <section className="sheet pad stack" aria-label="At night">
      <div className="row wrap" style={{ alignItems: 'flex-end' }}>
        <TextInput label="Compare all every day at" w={180} value={time} onChange={(e) => setTime(e.currentTarget.value)} />
        <Button loading={keep.isPending} onClick={() => keep.mutate({ at: time.trim() })}>
          {at === null ? 'Do so' : 'Change the time'}
        </Button>
        {at !== null && <Button onClick={() => keep.mutate({ at: null })}>No longer</Button>}
        <span className="dim small" style={{ paddingBottom: 8 }}>
          {at === null ? 'Now only when somebody asks.' : `Now every day at ${at}.`} Each kind of record is read whole, so choose an hour in
          which the systems are quiet.
        </span>
      </div>
      {keep.isError && <Failed error={keep.error} />}
    </section>
  )
}
