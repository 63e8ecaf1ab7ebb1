import { Navigate } from '@tanstack/react-router'
import { Loaded } from '../../shared/states'
import { useLane } from './lane'

/** A lane opens where there is something to do in it: at its first step that is not ready, or else at what would change. */
export function FirstStep() {
  const lane = useLane()
  return (
    <Loaded of={lane}>
      {(data) => <Navigate to={`/lanes/$lane/${(data.nextStep ?? 'preview') as 'preview'}`} params={{ lane: data.id }} replace />}
    </Loaded>
  )
}
