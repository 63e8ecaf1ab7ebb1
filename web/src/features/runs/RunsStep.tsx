import { useParams } from '@tanstack/react-router'
import { RunsTable } from './RunsPage'

export function RunsStep() {
  const { lane } = useParams({ from: '/lanes/$lane' })
  return <RunsTable filter={{ Lane: lane }} />
}
