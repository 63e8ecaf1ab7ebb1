import { Navigate } from '@tanstack/react-router'
import { useLane } from '../../shared/lane'
import { Loaded } from '../../shared/states'

/** A lane opens where there is something to do in it: at its first step that is not ready, or else at what would change. */
export function FirstStep() {
  const lane = useLane()
  return (
    <Loaded of={lane}>
      {(data) => <Navigate to={`/lanes/$lane/${(data.nextStep ?? 'preview') as 'preview'}`} params={{ lane: data.id }} replace />}
    </Loaded>
  )
}
