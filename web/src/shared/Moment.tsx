import { TextInput } from '@mantine/core'
import { useId } from 'react'
import { instantOf, shownOf } from './format'

/** An instant as a clock of the workspace shows it; in the address it is kept in UTC. */
export function Moment(props: { label: string; value: string | undefined; set: (instant: string | undefined) => void }) {
  const id = useId()
  return (
    <span className="row" style={{ gap: 6 }}>
      <label htmlFor={id} className="dim">
        {props.label}
      </label>
      <TextInput
        id={id}
        type="datetime-local"
        w={168}
        value={props.value ? shownOf(props.value) : ''}
        onChange={(e) => props.set(e.currentTarget.value ? instantOf(e.currentTarget.value) : undefined)}
      />
    </span>
  )
}
