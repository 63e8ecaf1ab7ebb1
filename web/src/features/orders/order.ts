import type { Schemas } from '../../shared/api'

export type OrderView = Schemas['OrderView']
