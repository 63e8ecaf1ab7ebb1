import { Button, CloseButton } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import type { RunSummary, Schemas } from '../../shared/api'
import { Differs } from '../../shared/Differs'
import { clockSeconds, count, value, when } from '../../shared/format'
import { queries } from '../../shared/queries'
import { Loaded } from '../../shared/states'
import { Trace } from '../../shared/Trace'
import { useLetThereCount } from './actions'
import { type FieldOf, labelOf } from './fields'
import { guardWords } from './writeWords'

type WriteDetail = Schemas['WriteDetail']

/** How the value of a line comes about, step by step, and what became of it. */
export function Why(props: {
  run: RunSummary
  write: string | undefined
  close: () => void
  fieldOf: FieldOf
  decided: (write: number) => void
}) {
  const { run, write, fieldOf, decided } = props
  const detail = useQuery({
    enabled: write !== undefined,
    ...queries.write(run.id, Number(write)),
  })
  // It folds away until it has something to say.
  if (write === undefined) return null
  return (
    <section className="sheet side" aria-label="Why">
      <Loaded of={detail}>
        {(found) => (
          <>
            <Head run={run} detail={found} fieldOf={fieldOf} close={props.close} />
            <Said run={run.id} detail={found} decided={decided} />
            <Values run={run} detail={found} fieldOf={fieldOf} />
            <Tries tries={found.tries} />
            <Fate run={run} detail={found} />
          </>
        )}
      </Loaded>
    </section>
  )
}

function Head(props: { run: RunSummary; detail: WriteDetail; fieldOf: FieldOf; close: () => void }) {
  const { run, detail, fieldOf } = props
  const { write: w, fields } = detail
  const field = fieldOf(w.field, w.way)
  const written = fields.filter((f) => !f.stays).length
  const more = written > 1 ? ` and ${count(written - 1)} more` : ''
  return (
    <div className="pad">
      <CloseButton aria-label="Close" size="sm" style={{ float: 'right' }} onClick={props.close} />
      <div className="strong" style={{ fontSize: 15 }}>
        Why {run.work.moveUnit === null ? `${labelOf(field, w.field)}${more}` : value(w.new, field?.type)}
      </div>
      <div className="dim">{w.caption}</div>
    </div>
  )
}

/** Why it is held, what a person may decide, and what went wrong. */
function Said({ run, detail, decided }: { run: number; detail: WriteDetail; decided: (write: number) => void }) {
  const { write: w } = detail
  const there = useLetThereCount(run)
  return (
    <>
      {w.hold && (
        <div className="line" style={{ color: 'var(--ochre)' }}>
          {w.state === 'held' ? 'Held' : 'Was held'}: {w.hold.words}.
        </div>
      )}
      {w.asks && (
        <div className="line row">
          <span className="grow dim small">Choose the line to send what is here, or let the other side’s value stand.</span>
          <Button size="compact-sm" loading={there.isPending} onClick={() => there.mutate([w.id], { onSuccess: () => decided(w.id) })}>
            What is there counts
          </Button>
        </div>
      )}
      {w.fate && <div className="line minus">{w.fate.words}</div>}
      {w.guards && <div className="line minus">Guarded: {guardWords(w.guards)}.</div>}
    </>
  )
}

/** Each field with its steps; where one amount is what the record is about, its steps stand open. */
function Values({ run, detail, fieldOf }: { run: RunSummary; detail: WriteDetail; fieldOf: FieldOf }) {
  const { fields } = detail
  const leading = run.work.moveUnit === null ? [] : fields.slice(0, 1)
  return (
    <>
      {leading.map((f) => (
        <Trace key={f.field} steps={f.trace} />
      ))}
      {fields.slice(leading.length).map((f) => {
        const field = fieldOf(f.field, detail.write.way)
        return (
          <details key={f.field} className="line small change" open={fields.length === 1}>
            <summary>
              {labelOf(field, f.field)}{' '}
              {f.stays ? (
                <>
                  <span className="strong">{value(f.old, field?.type)}</span>{' '}
                  <span className="tag ochre">cannot be emptied there: stays</span>
                </>
              ) : (
                <>
                  <span className="struck">
                    <Differs text={value(f.old, field?.type)} beside={value(f.new, field?.type)} whole />
                  </span>{' '}
                  →{' '}
                  <span className="strong">
                    <Differs text={value(f.new, field?.type)} beside={value(f.old, field?.type)} whole />
                  </span>
                </>
              )}
            </summary>
            <Trace steps={f.trace} />
          </details>
        )
      })}
    </>
  )
}

/** The attempts that were not simply accepted, and what became of each. */
function Tries({ tries }: { tries: WriteDetail['tries'] }) {
  if (tries.length === 0) return null
  return (
    <div className="line small" style={{ display: 'block' }}>
      {tries.map((t) => (
        <div key={`${t.at}${t.why.code}`}>
          <span className="dim">
            attempt {t.number}, {clockSeconds(t.at)}:
          </span>{' '}
          {t.why.words}
        </div>
      ))}
    </div>
  )
}

function Fate({ run, detail }: { run: RunSummary; detail: WriteDetail }) {
  const { write: w, ruleNumber, sentAt, confirmedAt } = detail
  const attempts = w.attempts > 1 ? `, ${w.attempts} attempts` : ''
  const written = w.way === 'back' ? { system: run.source.id, key: w.sourceKey } : { system: run.target.id, key: w.targetKey }
  return (
    <div className="line dim small" style={{ display: 'block' }}>
      Version {ruleNumber}.{sentAt && ` Sent ${when(sentAt)}${attempts}.`}
      {confirmedAt && ` Read back and confirmed ${when(confirmedAt)}.`}{' '}
      {w.takenBackIn !== null && (
        <Link to="/runs/$run" params={{ run: String(w.takenBackIn) }} search={{}}>
          Taken back by run {w.takenBackIn}.
        </Link>
      )}{' '}
      {w.act !== 'create' && (
        <Link to="/systems/$system/records/$key" params={written} search={{ field: w.field ?? undefined }}>
          What it was before
        </Link>
      )}
    </div>
  )
}
