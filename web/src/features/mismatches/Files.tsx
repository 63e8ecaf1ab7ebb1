import { SheetLinks } from '../../shared/SheetLinks'
import type { Filter } from './mismatch'

/** What is shown, as a file. */
export function Files({ filter }: { filter: Filter }) {
  const asked = Object.entries(filter).filter((e): e is [string, string] => e[1] !== undefined)
  const file = (form: string) => `/api/mismatches.${form}?${new URLSearchParams(asked)}`
  return <SheetLinks file={file} />
}
