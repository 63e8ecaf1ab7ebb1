import { useQuery } from '@tanstack/react-query'
import { useParams } from '@tanstack/react-router'
import { api, take } from '../../shared/api'

/** The lane whose page this is. */
export function useLane() {
  const { lane: id } = useParams({ from: '/lanes/$lane' })
  return useQuery({
    queryKey: ['lanes', id],
    queryFn: () => take(api.GET('/api/lanes/{id}', { params: { path: { id } } })),
  })
}
