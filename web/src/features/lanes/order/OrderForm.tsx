import type { Schemas } from '../../../shared/api'
import { Addresses } from './Addresses'
import { AfterForm } from './AfterForm'
import { Back } from './Back'
import { Buyer } from './Buyer'
import { Codes } from './Codes'
import { DocumentStep } from './DocumentStep'
import { Lines } from './Lines'
import { type Policy, Step, type StepOf } from './Step'
import { Sums } from './Sums'
import { Taking } from './Taking'

type Faults = Schemas['RuleFault'][]

type Props = { policy: Policy; set: (policy: Policy) => void; met?: Schemas['MetWords']; faults: Faults; currency: string }

/** An order rule in the order of its steps, in plain words. */
export function OrderForm(props: Props) {
  const { policy, met, faults, currency } = props
  const change = (some: Partial<Policy>) => props.set({ ...policy, ...some })
  const of: StepOf = {
    rule: policy.rule,
    set: (some) => change({ rule: { ...policy.rule, ...some } }),
    met,
    currency,
    faultAt: (path) => faults.some((f) => f.severity === 'refuse' && f.path.startsWith(path)),
  }
  return (
    <div className="stack">
      <Taking of={of} />
      <Codes of={of} />
      <Addresses of={of} />
      <Buyer of={of} />
      <Lines of={of} />
      <Sums of={of} />
      <DocumentStep of={of} policy={policy} change={change} />
      <Step name="Changed in the store after it was posted" wide>
        <AfterForm after={policy.after ?? {}} set={(after) => change({ after })} />
      </Step>
      <Back policy={policy} change={change} />
    </div>
  )
}
