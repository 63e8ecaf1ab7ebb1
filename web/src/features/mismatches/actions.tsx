import { notifications } from '@mantine/notifications'
import { useMutation } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useRef } from 'react'
import { api, Refusal, type Schemas, take } from '../../shared/api'
import { plural } from '../../shared/format'
import { useRenew } from '../../shared/queries'

type Act = Schemas['ActToDo']
type Done = Schemas['ActResult']

const said: Record<Schemas['DeskAct'], string> = {
  take: '',
  putOff: 'put off',
  give: 'given',
  remark: 'remarked',
  settle: 'settled',
}

const refuse = (error: Error) => notifications.show({ color: 'var(--harm)', message: error.message })

/** Acts on mismatches; each can be taken back, the newest first. */
export function useDesk() {
  const stale = useRenew()
  const renew = () => void stale('mismatches', 'today', 'couples', 'orders', 'lanes')
  const acts = useRef<number[]>([])
  const forget = (id: number) => {
    acts.current = acts.current.filter((a) => a !== id)
  }
  const undo = useMutation({
    mutationFn: (id: number) => take(api.POST('/api/mismatches/acts/{id}/undo', { params: { path: { id } } })),
    onSuccess: (done, id) => {
      forget(id)
      notifications.show({ message: `${plural(done.count, 'mismatch', 'mismatches')} as before.` })
    },
    // An act that cannot be taken back is not asked for again, or it would bar the way to those before it.
    onError: (error, id) => {
      if (error instanceof Refusal) forget(id)
      refuse(error)
    },
    onSettled: renew,
  })
  const act = useMutation({
    mutationFn: (body: Act) => take(api.POST('/api/mismatches/acts', { body })),
    onSuccess: (done, { act: what }) => {
      if (done.actId !== null) acts.current.push(done.actId)
      tell(done, what, () => done.actId !== null && undo.mutate(done.actId))
    },
    onError: refuse,
    onSettled: renew,
  })
  return {
    act,
    undo,
    undoLast: () => {
      const newest = acts.current.at(-1)
      if (newest !== undefined && !undo.isPending) undo.mutate(newest)
    },
  }
}

/** Says what was done, to how many, what was not and why; and how it is taken back. */
function tell(done: Done, act: Schemas['DeskAct'], undo: () => void) {
  const [first] = done.notTaken
  notifications.show({
    color: first ? 'var(--ochre)' : 'var(--glaze)',
    autoClose: 9000,
    message: (
      <span>
        {act === 'take' ? `${done.words}.` : `${plural(done.count, 'mismatch', 'mismatches')} ${said[act]}.`}
        {first && ` ${plural(done.notTaken.length, 'other')} not: ${first.why}.`}{' '}
        {done.runId !== null && (
          <Link to="/runs/$run" params={{ run: String(done.runId) }} className="act">
            Look and send
          </Link>
        )}{' '}
        {done.actId !== null && (
          <button type="button" className="act" onClick={undo}>
            Undo
          </button>
        )}
      </span>
    ),
  })
}
