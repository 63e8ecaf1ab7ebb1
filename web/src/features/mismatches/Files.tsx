import { Button } from '@mantine/core'
import type { Filter } from './mismatch'

/** What is shown, as a file. */
export function Files({ filter }: { filter: Filter }) {
  const asked = Object.entries(filter).filter((e): e is [string, string] => e[1] !== undefined)
  const file = (form: string) => `/api/mismatches.${form}?${new URLSearchParams(asked)}`
  return (
    <Button.Group>
      <Button component="a" href={file('csv')} download px={10}>
        CSV
      </Button>
      <Button component="a" href={file('xlsx')} download px={10}>
        XLSX
      </Button>
    </Button.Group>
  )
}
