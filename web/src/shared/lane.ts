import { useQuery } from '@tanstack/react-query'
import { useParams } from '@tanstack/react-router'
import { queries } from './queries'

/** The lane whose page this is. */
export function useLane() {
  const { lane: id } = useParams({ from: '/lanes/$lane' })
  return useQuery(queries.lane(id))
}
