import { useQuery } from '@tanstack/react-query'
import { api, take } from './api'

/** Every connected system. */
export const useSystems = () => useQuery({ queryKey: ['systems'], queryFn: () => take(api.GET('/api/systems')) })

/** The names of those who work here. */
export function usePeople() {
  const workspace = useQuery({ queryKey: ['workspace'], queryFn: () => take(api.GET('/api/workspace')) })
  return (workspace.data?.settings?.people ?? []).map((p) => p.name).filter((name) => name.length > 0)
}
