import { TextInput } from '@mantine/core'
import { useDebouncedCallback } from '@mantine/hooks'
import { useEffect, useState } from 'react'

/** A search box whose text lives in the URL; / puts the cursor there. */
export function Search(props: { label: string; text: string; search: (text: string | undefined) => void; slim?: boolean; w?: number }) {
  const { label, text, search } = props
  const [typed, setTyped] = useState(text)
  useEffect(() => setTyped(text), [text])
  const later = useDebouncedCallback((t: string) => search(t || undefined), 200)
  return (
    <TextInput
      aria-label={label}
      placeholder={label}
      value={typed}
      data-search={props.slim ? undefined : true}
      size={props.slim ? 'xs' : 'sm'}
      w={props.w ?? (props.slim ? 150 : 210)}
      onChange={(e) => {
        setTyped(e.currentTarget.value)
        later(e.currentTarget.value)
      }}
    />
  )
}
