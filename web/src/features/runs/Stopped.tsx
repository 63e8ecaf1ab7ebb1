import { Button } from '@mantine/core'
import { count } from '../../shared/format'
import { useDismiss, useSend } from './actions'
import { SendQuestion } from './Decisions'
import type { RunDetail } from './fields'

/** What the guards found, the worst cases, and the three ways on. */
export function Stopped({ detail, show }: { detail: RunDetail; show: () => void }) {
  const { run, guards } = detail
  const { planned, guarded, plannedGuarded, total } = run.writes
  const send = useSend(run.id)
  const dismiss = useDismiss(run.id)
  const open = run.state === 'ready' && planned > 0
  const words = run.stopped
    ? 'The guards stopped this run before its first write.'
    : open
      ? 'The guards would stop this.'
      : 'The guards had stopped this.'
  return (
    <section className={open ? 'note harm' : 'note'} style={{ display: 'block' }} aria-label="Guards">
      <div className="row wrap">
        <span className="grow">
          <span className="strong">{words}</span>{' '}
          {guards.map((g) => (
            <span key={g.kind} title={g.worst.join('\n')}>
              {g.message}.{g.worst.length > 0 && <span className="dim small"> Worst: {g.worst.slice(0, 3).join('; ')}.</span>}{' '}
            </span>
          ))}
        </span>
        {guarded > 0 && guarded < total && (
          <button type="button" className="act" onClick={show}>
            Show the {count(guarded)}
          </button>
        )}
        {open && (
          <>
            {plannedGuarded > 0 && planned > plannedGuarded && (
              <SendQuestion
                text={`Send the other ${count(planned - plannedGuarded)}`}
                disabled={detail.stale !== null}
                run={run}
                number={planned - plannedGuarded}
                busy={send.isPending}
                send={(done) => send.mutate({ all: true, except: null, only: null, withoutGuarded: true }, { onSuccess: done })}
              >
                <div>What the guards point at stays as it is: {guards.map((g) => g.message).join('; ')}.</div>
              </SendQuestion>
            )}
            <SendAll detail={detail} />
            <Button loading={dismiss.isPending} onClick={() => dismiss.mutate()}>
              Send none
            </Button>
          </>
        )}
      </div>
    </section>
  )
}

/** Sends everything against the guards, once it was asked whether that is meant. */
function SendAll({ detail }: { detail: RunDetail }) {
  const { run, guards } = detail
  const send = useSend(run.id)
  return (
    <SendQuestion
      text={`Send all ${count(run.writes.planned)}`}
      disabled={detail.stale !== null}
      run={run}
      number={run.writes.planned}
      busy={send.isPending}
      send={(done) => send.mutate({ all: true, except: null, only: null, withoutGuarded: false }, { onSuccess: done })}
    >
      <div className="note harm" style={{ display: 'block' }}>
        <span className="strong">Against the guards:</span> {guards.map((g) => g.message).join('; ')}.
      </div>
    </SendQuestion>
  )
}
