import { Button, Select } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { queries } from '../../shared/queries'

type Option = { value: string; label: string }

/** A record of the hub: those that are likely first, any other by its words. */
export function Pick(props: {
  hub: string
  kind: 'item' | 'customer'
  label: string
  button: string
  likely?: Option[]
  width?: number
  act: (key: string) => void
}) {
  const { hub, kind, label } = props
  const [search, setSearch] = useState('')
  const [chosen, setChosen] = useState<string | null>(null)
  // What is chosen stands in the field whole; its first part is what it is found by.
  const [asked] = useDebouncedValue(search.split(',')[0] ?? '', 200)
  const found = useQuery({
    ...queries.records(hub, kind, { search: asked || undefined })(0, 20),
    placeholderData: keepPreviousData,
  })
  const likely = asked ? [] : (props.likely ?? [])
  const known = new Set(likely.map((c) => c.value))
  const data = [
    ...likely,
    ...(found.data?.rows ?? [])
      .filter((r) => !known.has(r.key))
      .map((r) => ({ value: r.key, label: [r.reference, r.caption, r.key].filter(Boolean).join(', ') })),
  ]
  return (
    <span className="row">
      <Select
        aria-label={label}
        placeholder={label}
        searchable
        w={props.width ?? 340}
        data={data}
        filter={({ options }) => options}
        value={chosen}
        onChange={setChosen}
        searchValue={search}
        onSearchChange={setSearch}
        nothingFoundMessage="Nothing matches these words."
      />
      <Button aria-label={`${props.button}: ${label}`} disabled={!chosen} onClick={() => chosen && props.act(chosen)}>
        {props.button}
      </Button>
    </span>
  )
}
