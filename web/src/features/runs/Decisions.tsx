import { Button } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { Dialog } from '../../shared/Dialog'
import { count, plural } from '../../shared/format'
import { useRollBack, useSend } from './actions'
import type { RunDetail } from './fields'
import type { useChoice, useTakenBack } from './useChoice'

/** Sends what is chosen, once a person has read what that means. */
export function SendChosen({ detail, choice }: { detail: RunDetail; choice: ReturnType<typeof useChoice> }) {
  const { run, guards } = detail
  const send = useSend(run.id)
  const [asks, asking] = useDisclosure(false)
  const noun = run.work.noun
  const sent = () => {
    asking.close()
    choice.all()
  }
  return (
    <>
      <Button variant="filled" disabled={choice.count === 0} onClick={asking.open}>
        Send {count(choice.count)} chosen
      </Button>
      <Dialog opened={asks} close={asking.close} title={`Send to ${run.target.name}?`}>
        <div className="stack">
          <div>
            {plural(choice.count, noun.one, noun.many)} will be written at once
            {choice.held > 0 && <>, among them {count(choice.held)} that had been held because they look wrong</>}. Each is checked against
            what is there before it is sent, and read back afterwards.
          </div>
          {run.state === 'ready' &&
            guards.map((g) => (
              <div key={g.kind} className="dim">
                The guards found: {g.message}.
              </div>
            ))}
          <div className="row">
            <span className="grow" />
            <Button onClick={asking.close}>Not now</Button>
            <Button
              variant="filled"
              data-autofocus
              loading={send.isPending}
              onClick={() => send.mutate(choice.asked(run.state === 'ready'), { onSuccess: sent })}
            >
              Send {count(choice.count)} now
            </Button>
          </div>
        </div>
      </Dialog>
    </>
  )
}

/** Plans to take back what is chosen, or all of it. */
export function RollBack({ detail, backable, back }: { detail: RunDetail; backable: number; back: ReturnType<typeof useTakenBack> }) {
  const { run } = detail
  const rollBack = useRollBack(run.id)
  const [asks, asking] = useDisclosure(false)
  const noun = run.work.noun
  return (
    <>
      <Button onClick={asking.open}>{back.count > 0 ? `Roll back ${count(back.count)} chosen` : `Roll back all ${count(backable)}`}</Button>
      <Dialog opened={asks} close={asking.close} title={`Take run ${run.id} back?`}>
        <div className="stack">
          <div>
            {plural(back.count || backable, noun.one, noun.many)} will be compared with what {run.target.name} holds now. Where it still
            holds what this run wrote, the old value is planned; what has moved on since is left as it is and listed. Nothing is written
            before you send it. The lane’s timetable is paused, so that it does not send the same again.
          </div>
          <div className="row">
            <span className="grow" />
            <Button onClick={asking.close}>Not now</Button>
            <Button variant="filled" data-autofocus loading={rollBack.isPending} onClick={() => rollBack.mutate(back.asked())}>
              Plan the roll back
            </Button>
          </div>
        </div>
      </Dialog>
    </>
  )
}
