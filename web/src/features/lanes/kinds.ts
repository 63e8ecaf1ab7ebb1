import { customer } from './customer/kind'
import type { LaneKind } from './laneKind'
import { MapScope } from './map/MapScope'
import { order } from './order/kind'
import { price } from './price/kind'
import { stock } from './stock/kind'

/** A kind that goes by a field map and nothing else needs no line here. */
const kinds: Record<string, LaneKind> = { customer, order, price, stock }

export const kindOf = (kind: string): LaneKind => kinds[kind] ?? { Scope: MapScope }
