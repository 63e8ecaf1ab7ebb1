import { TextInput } from '@mantine/core'

/** A place in a reply or a body, or the name of a parameter; null where nothing is said. */
export function Place(props: { label: string; unsaid?: string; width?: number; at?: string | null; set: (at: string | null) => void }) {
  return (
    <TextInput
      label={props.label}
      size="xs"
      w={props.width ?? 180}
      placeholder={props.unsaid}
      classNames={{ input: 'mono' }}
      value={props.at ?? ''}
      onChange={(e) => props.set(e.currentTarget.value || null)}
    />
  )
}
