import { type Choices, useDraft } from '../draft'
import type { LaneKind } from '../laneKind'
import { PriceForm } from './PriceForm'

function Form({ choices }: { choices: Choices }) {
  const { document, set, faults } = useDraft()
  if (document.kind !== 'price') return null
  return <PriceForm rule={document.rule} set={(rule) => set({ ...document, rule })} choices={choices} faults={faults} />
}

export const price: LaneKind = { Form }
