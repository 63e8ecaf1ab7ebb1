import { useQuery } from '@tanstack/react-query'
import { queries } from './queries'

/** The names of those who work here. */
export function usePeople() {
  const workspace = useQuery(queries.workspace())
  return (workspace.data?.settings?.people ?? []).map((p) => p.name).filter((name) => name.length > 0)
}
