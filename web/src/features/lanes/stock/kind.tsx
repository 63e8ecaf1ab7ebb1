import { type Choices, useDraft } from '../draft'
import type { LaneKind } from '../laneKind'
import { StockForm } from './StockForm'

function Form({ choices }: { choices: Choices }) {
  const { document, set, faults } = useDraft()
  if (document.kind !== 'stock') return null
  return (
    <StockForm
      rule={document.rule}
      set={(rule) => set({ ...document, rule })}
      open={document.countsOpenSales ?? false}
      setOpen={(countsOpenSales) => set({ ...document, countsOpenSales })}
      choices={choices}
      faults={faults}
    />
  )
}

export const stock: LaneKind = { Form }
