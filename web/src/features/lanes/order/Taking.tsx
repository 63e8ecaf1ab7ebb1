import { SegmentedControl, Select, TextInput } from '@mantine/core'
import { instantOf, shownOf } from '../../../shared/format'
import { CodeTable } from './CodeTable'
import { type Outcome, outcomes, Step, type StepOf } from './Step'

const usualPayments: Record<string, Outcome> = {
  paid: 'take',
  authorised: 'take',
  pending: 'wait',
  partial: 'wait',
  failed: 'hold',
  refunded: 'skip',
}

const outcome = (what: string, fallback: (word: string) => Outcome) => {
  const Choose = (word: string, meaning: Outcome | undefined, set: (m: Outcome | undefined) => void) => (
    <Select
      aria-label={`${what} ${word}`}
      size="xs"
      data={outcomes}
      value={meaning ?? null}
      clearable
      placeholder={`${fallback(word)} (usual)`}
      onChange={(v) => set((v as Outcome | null) ?? undefined)}
    />
  )
  return Choose
}

/** From when on, in which state and paid how far an order is taken. */
export function Taking({ of }: { of: StepOf }) {
  const { rule, set, met } = of
  return (
    <>
      <Step name="From when on">
        <TextInput
          aria-label="Cut-off"
          type="datetime-local"
          w={210}
          value={rule.cutOff ? shownOf(rule.cutOff) : ''}
          onChange={(e) => set({ cutOff: e.currentTarget.value ? instantOf(e.currentTarget.value) : null })}
        />
        <span className="dim small">orders placed before are left alone</span>
      </Step>
      <Step name="State of the order" wide>
        <CodeTable
          label="States"
          met={met?.states ?? []}
          codes={(rule.states ?? {}) as Record<string, Outcome>}
          set={(states) => set({ states })}
          choose={outcome('State', () => rule.otherState ?? 'hold')}
        />
        <div className="row">
          <span>any other state</span>
          <SegmentedControl
            aria-label="Any other state"
            size="xs"
            data={outcomes}
            value={rule.otherState ?? 'hold'}
            onChange={(v) => set({ otherState: v as Outcome })}
          />
        </div>
      </Step>
      <Step name="Payment" wide>
        <CodeTable
          label="Payments"
          met={met?.payments ?? []}
          codes={(rule.payments ?? {}) as Record<string, Outcome>}
          set={(payments) => set({ payments })}
          choose={outcome('Payment', (w) => usualPayments[w] ?? 'hold')}
        />
      </Step>
    </>
  )
}
