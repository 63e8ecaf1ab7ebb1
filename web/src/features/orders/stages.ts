import type { Schemas } from '../../shared/api'

export type Stage = Schemas['OrderStage']

/** What an order's stage is called, and the tone of its tag. */
export const stages: Record<Stage, [word: string, tone: string]> = {
  new: ['new', 'clay'],
  waiting: ['waiting', 'ochre'],
  held: ['held', 'harm'],
  taken: ['taken', 'glaze'],
  acknowledged: ['acknowledged', 'glaze'],
  shipped: ['shipped', 'glaze'],
  skipped: ['skipped', 'plain'],
}

/** The filters of the list: the stages, and what lies across them. */
export const views = [...Object.keys(stages), 'refunded', 'defaultItem'] as const

export const viewWords: Record<string, string> = {
  ...Object.fromEntries(Object.entries(stages).map(([key, [word]]) => [key, word])),
  refunded: 'with refunds',
  defaultItem: 'with the default item',
}

export const remarkWords: Record<string, string> = {
  placeholderAddress: 'The rule’s own address stands in for one that is missing or outside the zones.',
  lineOmitted: 'A line was left out, because the hub does not know its SKU.',
  difference: 'A line makes up for a difference between lines and total.',
  taxDiffers: 'The store reckons the tax differently, by more than a cent a line.',
}
