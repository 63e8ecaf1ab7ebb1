import { Button } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import type { ReactNode } from 'react'
import { useRollBack } from '../../shared/acts'
import { Dialog } from '../../shared/Dialog'
import { count, plural } from '../../shared/format'
import { useSend } from './actions'
import type { RunDetail } from './fields'
import type { useChoice, useTakenBack } from './useChoice'

/** Sends what is chosen, once a person has read what that means. */
export function SendChosen({ detail, choice }: { detail: RunDetail; choice: ReturnType<typeof useChoice> }) {
  const { run, guards } = detail
  const send = useSend(run.id)
  const ready = run.state === 'ready'
  return (
    <SendQuestion
      text={`Send ${count(choice.count)} chosen`}
      filled
      disabled={choice.count === 0 || detail.stale !== null}
      run={run}
      number={choice.count}
      busy={send.isPending}
      send={(done) =>
        send.mutate(choice.asked(ready), {
          onSuccess: () => {
            done()
            choice.all()
          },
        })
      }
    >
      {choice.named > 0 && (
        <div>Among them {count(choice.named)} that you chose although they are held, guarded, or were not chosen the last time.</div>
      )}
      {ready && choice.whole && guards.length > 0 && (
        <div className="dim">What the guards found is left out: {guards.map((g) => g.message).join('; ')}.</div>
      )}
    </SendQuestion>
  )
}

/** The one question before anything is written to another system: how much, where to, and what it goes through. */
export function SendQuestion(props: {
  /** What stands on the button. */
  text: string
  filled?: boolean
  disabled?: boolean
  run: RunDetail['run']
  number: number
  busy: boolean
  send: (done: () => void) => void
  children?: ReactNode
}) {
  const { run, number } = props
  const [asks, asking] = useDisclosure(false)
  const noun = run.work.noun
  return (
    <>
      <Button variant={props.filled ? 'filled' : 'default'} disabled={props.disabled} onClick={asking.open}>
        {props.text}
      </Button>
      <Dialog opened={asks} close={asking.close} title={`Send ${plural(number, noun.one, noun.many)} to ${run.target.name}?`}>
        <div className="stack">
          <div className="dim">
            Computed by version {run.ruleNumber} of {run.laneName}.
          </div>
          <div>Each is checked against what is there before it is sent, and read back afterwards.</div>
          {props.children}
          <div className="row">
            <span className="grow" />
            <Button onClick={asking.close}>Not now</Button>
            <Button variant="filled" data-autofocus loading={props.busy} onClick={() => props.send(asking.close)}>
              Send {count(number)} now
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
