import { Button, TextInput } from '@mantine/core'
import { useEffect, useState } from 'react'
import { Dialog } from '../../shared/Dialog'
import { count } from '../../shared/format'
import type { Couple } from './actions'

/** Why a record is meant to have no partner. The likely reason stands there already, so that Enter is enough. */
export function SetAsideDialog(props: {
  couple: Couple
  opened: boolean
  close: () => void
  side: 'hub' | 'other'
  number: number
  done: (reason: string) => void
}) {
  const { couple, side, number } = props
  const reasons =
    side === 'hub'
      ? [`not sold in ${couple.other.name}`, 'discontinued', 'for later']
      : [`not an item of ${couple.hub.name}`, 'a service, without stock', 'discontinued', 'for later']
  const [reason, setReason] = useState(reasons[0] as string)
  // biome-ignore lint/correctness/useExhaustiveDependencies: begins anew each time it is opened
  useEffect(() => setReason(reasons[0] as string), [props.opened, side])
  return (
    <Dialog title={number === 1 ? 'Set aside' : `Set ${count(number)} records aside`} opened={props.opened} close={props.close}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault()
          if (reason.trim()) props.done(reason)
        }}
      >
        <TextInput label="Why" data-autofocus value={reason} onChange={(e) => setReason(e.currentTarget.value)} />
        <div className="row wrap" style={{ gap: 6 }}>
          {reasons.map((r) => (
            <button key={r} type="button" className="chip slim" aria-pressed={reason === r} onClick={() => setReason(r)}>
              {r}
            </button>
          ))}
        </div>
        <div className="row">
          <span className="grow dim small">It stays on record with who set it aside and when, and can be taken back.</span>
          <Button type="submit" variant="filled" disabled={!reason.trim()}>
            Set {number === 1 ? 'it' : count(number)} aside
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
