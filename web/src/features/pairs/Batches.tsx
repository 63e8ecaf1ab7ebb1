import { Button, Checkbox, TextInput } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import type { Schemas } from '../../shared/api'
import { Dialog } from '../../shared/Dialog'
import { count, plural, when } from '../../shared/format'
import { queries } from '../../shared/queries'
import { Empty, Loaded } from '../../shared/states'
import { type Couple, useDesk } from './actions'

type Decision = Schemas['DecisionView']
type Batch = Schemas['BatchView']

/** What is decided and not in force yet, and what was put into force before, each batch with its way back. */
export function Batches({ couple }: { couple: Couple }) {
  const desk = useDesk(couple.id)
  const waiting = useQuery(queries.decisions(couple.id))
  const [except, setExcept] = useState<ReadonlySet<number>>(new Set())
  const [note, setNote] = useState('')
  const all = waiting.data ?? []
  const chosen = all.filter((d) => !except.has(d.id))
  const commit = () => {
    if (chosen.length === 0) return
    desk.commit.mutate({ only: except.size === 0 ? null : chosen.map((d) => d.id), note: note || null }, { onSuccess: () => setNote('') })
  }
  useHotkeys([['mod+Enter', commit]], [])
  return (
    <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 380px' }}>
      <section className="sheet side" aria-labelledby="waiting-decisions">
        <div className="sheet-head">
          <h2 id="waiting-decisions" style={{ all: 'unset', flex: 1 }}>
            {plural(couple.counts.waiting, 'decision')} waiting
          </h2>
          {all.length > 0 && (
            <>
              <TextInput
                size="xs"
                aria-label="Note"
                placeholder="Note for later"
                value={note}
                onChange={(e) => setNote(e.currentTarget.value)}
              />
              <Button size="xs" onClick={() => desk.throwAway.mutate()}>
                Throw away
              </Button>
              <Button size="xs" variant="filled" loading={desk.commit.isPending} disabled={chosen.length === 0} onClick={commit}>
                Commit {except.size === 0 ? count(couple.counts.waiting) : `${count(chosen.length)} of ${count(all.length)}`}
              </Button>
            </>
          )}
        </div>
        <Loaded of={waiting}>
          {(decisions) =>
            decisions.length === 0 ? (
              <Empty title="Nothing waits">What you decide at the desk collects here before it is put into force.</Empty>
            ) : (
              decisions.map((d) => (
                <Line
                  key={d.id}
                  decision={d}
                  chosen={!except.has(d.id)}
                  choose={() =>
                    setExcept((old) => {
                      const next = new Set(old)
                      if (!next.delete(d.id)) next.add(d.id)
                      return next
                    })
                  }
                  back={() => desk.withdraw.mutate(d.id)}
                />
              ))
            )
          }
        </Loaded>
      </section>
      <History couple={couple} />
    </div>
  )
}

const acts: Record<Decision['act'], [string, string]> = {
  accept: ['pair', 'glaze'],
  share: ['share', 'glaze'],
  kit: ['kit', 'ochre'],
  setAside: ['aside', 'plain'],
  create: ['create', 'clay'],
  unpair: ['unpair', 'harm'],
}

function Line(props: { decision: Decision; chosen: boolean; choose: () => void; back: () => void }) {
  const d = props.decision
  const [word, tone] = acts[d.act]
  return (
    <div className="line" style={{ gridTemplateColumns: '18px 62px minmax(0, 1fr) auto' }}>
      <Checkbox checked={props.chosen} onChange={props.choose} aria-label={`Commit: ${d.words}`} />
      <span>
        <span className={`tag ${tone}`}>{word}</span>
      </span>
      <span style={{ minWidth: 0 }}>
        <div className="clip">
          <span className="strong">{d.caption ?? d.hubKey ?? d.otherKey}</span> <span className="mono dim">{d.reference}</span>
        </div>
        <div className="dim small">
          {d.words} · {d.evidence} · {d.by}, {when(d.at)}
        </div>
      </span>
      <button type="button" className="act" onClick={props.back} aria-label={`Take back: ${d.words}`}>
        Take back
      </button>
    </div>
  )
}

/** What was put into force, each batch with its way back and forth; and what was thrown away. */
function History({ couple }: { couple: Couple }) {
  const desk = useDesk(couple.id)
  const batches = useQuery(queries.batches(couple.id))
  const thrown = useQuery(queries.thrown(couple.id))
  const [opened, open] = useState<number>()
  const [asked, ask] = useState<Batch>()
  return (
    <div className="side stack">
      {asked && <UndoDialog couple={couple} batch={asked} close={() => ask(undefined)} />}
      <section className="sheet" aria-labelledby="batches">
        <h2 id="batches">Put into force</h2>
        <Loaded of={batches}>
          {(all) =>
            all.length === 0 ? (
              <Empty title="Nothing yet" />
            ) : (
              all.map((b) => (
                <div key={b.id}>
                  <div className="line" style={{ gridTemplateColumns: 'minmax(0, 1fr) auto' }}>
                    <button
                      type="button"
                      className="plain-button"
                      aria-expanded={opened === b.id}
                      onClick={() => open(opened === b.id ? undefined : b.id)}
                    >
                      <div>
                        <span className={b.undoneAt ? 'struck' : 'strong'}>{plural(b.decisions, 'decision')}</span> by {b.by}, {when(b.at)}
                      </div>
                      <div className="dim small">
                        {b.undoneAt ? `taken back by ${b.undoneBy}, ${when(b.undoneAt)}` : (b.note ?? 'no note')}
                      </div>
                    </button>
                    {b.undoneAt ? (
                      <Button
                        size="compact-sm"
                        loading={desk.redo.isPending && desk.redo.variables === b.id}
                        onClick={() => desk.redo.mutate(b.id)}
                      >
                        Put back
                      </Button>
                    ) : (
                      <Button size="compact-sm" onClick={() => ask(b)}>
                        Undo
                      </Button>
                    )}
                  </div>
                  {opened === b.id && <Inside couple={couple} batch={b.id} />}
                </div>
              ))
            )
          }
        </Loaded>
      </section>
      {(thrown.data ?? []).length > 0 && (
        <section className="sheet" aria-labelledby="thrown">
          <h2 id="thrown">Thrown away</h2>
          {(thrown.data ?? []).map((t) => (
            <div key={t.at} className="line" style={{ gridTemplateColumns: 'minmax(0, 1fr) auto' }}>
              <span style={{ minWidth: 0 }}>
                <div>
                  {plural(t.count, 'decision')} by {t.by}, {when(t.at)}
                </div>
                <div className="dim small clip">{t.count === 1 ? t.last : `the last: ${t.last}`}</div>
              </span>
              <Button
                size="compact-sm"
                loading={desk.bringBack.isPending && desk.bringBack.variables === t.at}
                onClick={() => desk.bringBack.mutate(t.at)}
              >
                Bring back
              </Button>
            </div>
          ))}
        </section>
      )}
    </div>
  )
}

function Inside({ couple, batch }: { couple: Couple; batch: number }) {
  const inside = useQuery(queries.decisions(couple.id, batch))
  return (
    <Loaded of={inside}>
      {(decisions) => (
        <>
          {decisions.slice(0, 100).map((d) => (
            <div key={d.id} className="line small" style={{ display: 'block', paddingLeft: 26 }}>
              <span className="strong">{d.caption ?? d.otherKey}</span>{' '}
              <span className="dim">
                {d.words}: {d.evidence}
              </span>
            </div>
          ))}
          {decisions.length > 100 && <div className="line dim">and {count(decisions.length - 100)} more</div>}
        </>
      )}
    </Loaded>
  )
}

/** Says what was written by the pairs of a batch before they are taken apart. */
function UndoDialog({ couple, batch, close }: { couple: Couple; batch: Batch; close: () => void }) {
  const desk = useDesk(couple.id)
  const used = useQuery(queries.usedBy(couple.id, batch.id))
  const written = (used.data ?? []).reduce((sum, r) => sum + r.records, 0)
  return (
    <Dialog opened close={close} title={`Undo ${plural(batch.decisions, 'decision')}?`}>
      <div className="stack">
        <span>They are no longer in force after this. “Put back” brings them into force again.</span>
        <Loaded of={used}>
          {(runs) =>
            runs.length === 0 ? (
              <span>No run has written anything by these pairs.</span>
            ) : (
              <div className="note harm" style={{ display: 'block' }}>
                {plural(runs.length, 'run')} wrote {plural(written, 'record')} by these pairs:{' '}
                {runs.slice(0, 5).map((r, i) => (
                  <span key={r.runId}>
                    {i > 0 && ', '}
                    <Link to="/runs/$run" params={{ run: String(r.runId) }} search={{ show: 'confirmed' }}>
                      run {r.runId} ({count(r.records)})
                    </Link>
                  </span>
                ))}
                {runs.length > 5 && ` and ${count(runs.length - 5)} more`}. What they wrote stays; take the runs back where it should not.
              </div>
            )
          }
        </Loaded>
        <div className="row" style={{ justifyContent: 'flex-end' }}>
          <Button onClick={close}>Leave them</Button>
          <Button
            variant="filled"
            loading={desk.undo.isPending}
            disabled={!used.isSuccess}
            onClick={() => desk.undo.mutate(batch.id, { onSuccess: close })}
          >
            Undo {plural(batch.decisions, 'decision')}
          </Button>
        </div>
      </div>
    </Dialog>
  )
}
