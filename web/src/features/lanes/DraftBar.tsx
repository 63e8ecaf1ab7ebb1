import { Button, TextInput } from '@mantine/core'
import { Link, useRouterState } from '@tanstack/react-router'
import { useStartRun } from '../../shared/acts'
import { Refusal, type Schemas } from '../../shared/api'
import { count, plural, when } from '../../shared/format'
import { guardNames } from '../../shared/guardNames'
import { Failed } from '../../shared/states'
import { useDraft } from './draft'
import { Reasons } from './map/Reasons'

/** What stands between a draft and a version: its effect, what the guards would say, and what for. */
export function DraftBar() {
  const draft = useDraft()
  const start = useStartRun()
  const { base, changed, faults, save, lane } = draft
  const path = useRouterState({ select: (s) => s.location.pathname })
  if (!changed && !save.isError && faults.length === 0) {
    if (draft.thrown) return <Thrown />
    // The step of that name says the same, and offers it itself.
    if (path.endsWith('/preview')) return null
    if (base.number === 1 || (lane.comparedAt !== null && base.at < lane.comparedAt)) return null
    return (
      <section className="draft" aria-label="Save">
        <div className="row">
          <span className="grow dim">Version {base.number} is saved; nothing has been compared by it yet.</span>
          <Button onClick={() => start.mutate({ lane: lane.id, preview: true })}>Preview</Button>
        </div>
      </section>
    )
  }
  const next = base.number + 1
  return (
    <section className="draft" aria-label="Save">
      {save.isError &&
        (save.error instanceof Refusal && save.error.code === 'rule.changed' ? (
          <div className="note harm" role="alert">
            <span className="grow">{save.error.message}</span>
            <Button onClick={() => void draft.reload()}>Reload</Button>
          </div>
        ) : (
          <Failed error={save.error} />
        ))}
      {draft.conflict && (
        <div className="note harm" role="alert">
          <span className="grow">{draft.conflict}</span>
          <Button onClick={() => void draft.takeTheirs()}>Take that one</Button>
          <Button onClick={() => void draft.keepMine()}>Keep this one</Button>
        </div>
      )}
      {faults.map((f) => (
        <div key={f.path + f.message} className={`small ${f.severity === 'refuse' ? 'minus' : 'warns'}`} role="alert">
          {f.severity === 'refuse' ? '✕' : '!'} {f.message}
        </div>
      ))}
      {changed && (
        <div className="row">
          <span className="grow">
            <span className="strong">Version {next}, not saved. </span>
            <EffectWords />
          </span>
          <TextInput
            aria-label="What for"
            placeholder="What for? (a note for later)"
            w={210}
            value={draft.note}
            onChange={(e) => draft.setNote(e.currentTarget.value)}
          />
          <Button onClick={draft.discard}>Throw away</Button>
          <Button variant="filled" disabled={draft.refused} loading={save.isPending} onClick={() => save.mutate()}>
            Save version {next}
          </Button>
        </div>
      )}
    </section>
  )
}

/** What was thrown away is a press away until another draft is begun. */
function Thrown() {
  const { thrown, bringBack } = useDraft()
  if (!thrown) return null
  return (
    <section className="draft" aria-label="Save">
      <div className="row">
        <span className="grow dim">
          What was not saved of version {thrown.baseNumber + 1} was thrown away {when(thrown.thrownAt)}.
        </span>
        <Button onClick={() => void bringBack()}>Bring it back</Button>
      </div>
    </section>
  )
}

function EffectWords() {
  const { trial, base, refused } = useDraft()
  if (refused) return <span className="minus">What it would do, and what its guards would say, can be told once that is put right.</span>
  if (trial.isError) return <span className="minus">{(trial.error as Error).message}</span>
  if (!trial.data) return <span className="dim">Its effect is being computed…</span>
  const { records, changes, changesInForce, tripped } = trial.data
  return (
    <>
      {count(changes)} of {plural(records, 'record')} would change; by version {base.number} it would be {count(changesInForce)}.
      {trial.data.looksAt === 'fields' && <MapWords trial={trial.data} />}
      {tripped.length > 0 && (
        <>
          {' '}
          <Link from="/lanes/$lane" to="/lanes/$lane/guards" className="strong minus">
            Guards would stop it: {tripped.map((t) => `${guardNames[t.kind]} (${count(t.count)})`).join(', ')}
          </Link>
        </>
      )}
    </>
  )
}

function MapWords({ trial }: { trial: Schemas['TrialResultMapTrial'] }) {
  const { lane } = useDraft()
  const parts = [
    trial.creates > 0 && `${count(trial.creates)} created`,
    trial.withdrawn > 0 && `${count(trial.withdrawn)} hidden or ended`,
    trial.back > 0 && `${count(trial.back)} taken back`,
    trial.held > 0 && `${count(trial.held)} held`,
  ].filter(Boolean)
  return (
    <>
      {parts.length > 0 && <span className="dim"> {parts.join(' · ')}</span>}
      {trial.failing > 0 && (
        <>
          {' '}
          <Reasons trial={trial} lane={lane.id} className="act">
            {count(trial.failing)} cannot be mapped
          </Reasons>
        </>
      )}
    </>
  )
}
