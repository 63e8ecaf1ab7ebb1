import type { Choices, PriceRule } from '../draft'

/** What each part of a price rule has: the rule, what changes it, what can be chosen, and where it is refused. */
export type PartOf = {
  rule: PriceRule
  set: (change: Partial<PriceRule>) => void
  choices: Choices
  faultAt: (path: string) => boolean
}

export const text = (n: number | string | null | undefined) => (n === null || n === undefined ? '' : String(n))

/** What is typed, with a comma taken for a point; nothing typed is no value. */
export const typed = (t: string) => (t.trim() === '' ? null : t.trim().replace(',', '.'))
