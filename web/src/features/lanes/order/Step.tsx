import { TextInput } from '@mantine/core'
import type { ReactNode } from 'react'
import type { Schemas } from '../../../shared/api'

export type Policy = Schemas['LaneDocumentOrderPolicy']
export type Rule = Schemas['OrderRule']
export type Outcome = Schemas['OrderOutcome']

/** What each step of an order rule has: the rule, what changes it, and where it is refused. */
export type StepOf = {
  rule: Rule
  set: (change: Partial<Rule>) => void
  met: Schemas['MetWords'] | undefined
  faultAt: (path: string) => boolean
  /** Of the hub, in which amounts of the rule are meant. */
  currency: string
}

/** What a step of an order's policy has, beyond its rule. */
export type PolicyOf = { policy: Policy; change: (change: Partial<Policy>) => void }

export const outcomes: { value: Outcome; label: string }[] = [
  { value: 'take', label: 'take' },
  { value: 'wait', label: 'wait' },
  { value: 'hold', label: 'hold' },
  { value: 'skip', label: 'skip' },
]

export function Step({ name, wide, children }: { name: string; wide?: boolean; children: ReactNode }) {
  return (
    <fieldset className={wide ? 'rule-step wide' : 'rule-step'} aria-label={name}>
      <span className="strong">{name}</span>
      <div className={wide ? 'stack' : 'row wrap'}>{children}</div>
    </fieldset>
  )
}

type Named = 'otherMethod' | 'otherShipping' | 'useItem' | 'shippingItem' | 'discountItem' | 'feeItem'

/** A word of the rule that is typed as it is. */
export function Typed({ of, label, name, hint }: { of: StepOf; label: string; name: Named; hint: string }) {
  return (
    <TextInput
      aria-label={label}
      placeholder={hint}
      w={190}
      value={of.rule[name] ?? ''}
      error={of.faultAt(name)}
      onChange={(e) => of.set({ [name]: e.currentTarget.value || null })}
    />
  )
}
