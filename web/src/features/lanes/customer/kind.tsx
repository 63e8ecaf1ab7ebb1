import { SegmentedControl } from '@mantine/core'
import type { Schemas } from '../../../shared/api'
import { useDraft } from '../draft'
import type { LaneKind } from '../laneKind'
import { MapScope } from '../map/MapScope'

/** Which customers are written. */
function Buyers() {
  const { lane, document, set } = useDraft()
  if (document.kind !== 'customer') return null
  return (
    <section className="sheet pad row" aria-label="Which customers">
      <span>Takes of {lane.source.name}</span>
      <SegmentedControl
        aria-label="Which customers"
        value={document.taken ?? 'all'}
        onChange={(taken) => set({ ...document, taken: taken as Schemas['CustomersTaken'] })}
        data={[
          { value: 'all', label: 'all customers' },
          { value: 'buyers', label: 'those who bought something' },
        ]}
      />
    </section>
  )
}

export const customer: LaneKind = {
  Scope: () => (
    <>
      <Buyers />
      <MapScope />
    </>
  ),
}
