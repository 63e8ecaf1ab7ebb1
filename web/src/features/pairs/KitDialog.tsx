import { ActionIcon, Button, NumberInput, TextInput } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { IconX } from '@tabler/icons-react'
import { useEffect, useState } from 'react'
import { Dialog } from '../../shared/Dialog'
import { plural } from '../../shared/format'
import { SystemMark } from '../../shared/SystemMark'
import type { Couple, DeskRow } from './actions'
import { useRecordSearch } from './Candidates'

type Part = { hubKey: string; quantity: number; caption: string }

/** A listing that stands for several items: found by hand, item by item. Enter adds the first that was found. */
export function KitDialog(props: {
  couple: Couple
  row: DeskRow
  opened: boolean
  close: () => void
  done: (parts: { hubKey: string; quantity: number }[]) => void
}) {
  const { couple, row } = props
  const [parts, setParts] = useState<Part[]>([])
  const [text, setText] = useState('')
  const [asked] = useDebouncedValue(text, 150)
  const [wanted, setWanted] = useState<string | null>(null)
  const found = useRecordSearch(couple, 'hub', asked)
  const add = (r: { key: string; caption?: string | null }) => {
    setParts((old) => (old.some((p) => p.hubKey === r.key) ? old : [...old, { hubKey: r.key, quantity: 1, caption: r.caption ?? r.key }]))
    setText('')
    setWanted(null)
  }
  // Whoever types faster than the search finds is not made to press Enter again.
  const first = found.data?.rows[0]
  const here = wanted !== null && asked === wanted && text === wanted && found.isSuccess && !found.isPlaceholderData
  // biome-ignore lint/correctness/useExhaustiveDependencies: once the wanted one is here
  useEffect(() => {
    if (here && first) add(first)
  }, [here, first?.key])
  return (
    <Dialog title="A kit of several items" opened={props.opened} close={props.close} wide>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault()
          if (parts.length > 0) props.done(parts.map(({ hubKey, quantity }) => ({ hubKey, quantity })))
        }}
      >
        <div className="row">
          <SystemMark system={couple.other} /> <span className="strong">{row.caption}</span>{' '}
          <span className="mono dim">{row.reference}</span>
        </div>
        {parts.map((p) => (
          <div key={p.hubKey} className="row">
            <NumberInput
              size="xs"
              w={70}
              min={1}
              max={10_000}
              aria-label={`How many of ${p.caption}`}
              value={p.quantity}
              onChange={(v) => setParts(parts.map((x) => (x.hubKey === p.hubKey ? { ...x, quantity: Number(v) || 1 } : x)))}
            />
            <span>×</span>
            <span className="grow">
              {p.caption} <span className="mono dim">{p.hubKey}</span>
            </span>
            <ActionIcon
              variant="subtle"
              color="var(--ink-2)"
              aria-label={`Leave ${p.caption} out`}
              onClick={() => setParts(parts.filter((x) => x.hubKey !== p.hubKey))}
            >
              <IconX size={15} />
            </ActionIcon>
          </div>
        ))}
        <TextInput
          data-autofocus
          aria-label={`Find an item of ${couple.hub.name}`}
          placeholder={`Find an item of ${couple.hub.name}, Enter adds the first`}
          value={text}
          onChange={(e) => setText(e.currentTarget.value)}
          onKeyDown={(e) => {
            if (e.key !== 'Enter' || text.trim() === '') return
            e.preventDefault()
            setWanted(text)
          }}
        />
        {asked.trim() !== '' &&
          found.data?.rows.slice(0, 6).map((r) => (
            <button
              key={r.key}
              type="button"
              className="plain-button line"
              style={{ gridTemplateColumns: '1fr auto' }}
              onClick={() => add(r)}
            >
              <span>{r.caption}</span> <span className="mono dim">{r.reference || r.key}</span>
            </button>
          ))}
        <div className="row">
          <span className="grow dim small">Its stock will be what its scarcest item allows. Its price stays as it is there.</span>
          <Button type="submit" variant="filled" disabled={parts.length === 0 || text.trim() !== ''}>
            Make a kit of {plural(parts.length, 'item')}
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
