import { useDraft } from '../draft'
import type { LaneKind } from '../laneKind'
import { OrderEffect } from './OrderEffect'
import { OrderForm } from './OrderForm'

function Form() {
  const { lane, document, set, faults, trial } = useDraft()
  if (document.kind !== 'order') return null
  const met = trial.data?.looksAt === 'orders' ? trial.data.met : undefined
  return <OrderForm policy={document} set={set} met={met} faults={faults} currency={lane.currency} />
}

function Effect() {
  const { lane, trial } = useDraft()
  return trial.data?.looksAt === 'orders' ? <OrderEffect trial={trial.data} lane={lane.id} /> : null
}

export const order: LaneKind = { Form, Effect, effectWidth: 400 }
