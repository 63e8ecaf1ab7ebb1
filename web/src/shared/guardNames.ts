import type { Schemas } from './api'

/** What each guard watches, as a person says it. */
export const guardNames: Record<Schemas['GuardKind'], string> = {
  changedShare: 'share changed',
  priceMove: 'price move',
  belowCost: 'below cost',
  belowMargin: 'below margin',
  zeroPrice: 'price of zero',
  toZero: 'quantity to 0',
  emptiedText: 'text emptied',
  removed: 'removed',
  failing: 'failing',
  postedAtOnce: 'orders at once',
  orderOver: 'worth of an order',
  heldShare: 'share held',
}
