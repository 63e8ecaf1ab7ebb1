import { Button } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { Dialog } from '../../shared/Dialog'
import { count } from '../../shared/format'
import { useDismiss, useSend } from './actions'
import type { RunDetail } from './fields'

/** What the guards found, the worst cases, and the three ways on. */
export function Stopped({ detail, show }: { detail: RunDetail; show: () => void }) {
  const { run, guards } = detail
  const { planned, guarded, total } = run.writes
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
            {guarded > 0 && planned > guarded && (
              <Button loading={send.isPending} onClick={() => send.mutate({ all: true, except: null, only: null, withoutGuarded: true })}>
                Send the other {count(planned - guarded)}
              </Button>
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
  const [asks, asking] = useDisclosure(false)
  const planned = count(run.writes.planned)
  return (
    <>
      <Button onClick={asking.open}>Send all</Button>
      <Dialog opened={asks} close={asking.close} title={`Send all ${planned}, against the guards?`}>
        <div className="stack">
          {guards.map((g) => (
            <div key={g.kind}>{g.message}.</div>
          ))}
          <div className="row">
            <span className="grow" />
            <Button onClick={asking.close}>Not now</Button>
            <Button
              variant="filled"
              loading={send.isPending}
              onClick={() => send.mutate({ all: true, except: null, only: null, withoutGuarded: false }, { onSuccess: asking.close })}
            >
              Send all {planned} all the same
            </Button>
          </div>
        </div>
      </Dialog>
    </>
  )
}
