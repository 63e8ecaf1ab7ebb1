import { Select, TextInput } from '@mantine/core'
import { type Rule, Step, type StepOf } from './Step'

/** How tax is reckoned, and what is done where sums do not agree. */
export function Sums({ of }: { of: StepOf }) {
  const { rule, set, faultAt, currency } = of
  const tax = rule.tax ?? {}
  return (
    <>
      <Step name="Tax">
        <Select
          aria-label="Rounded"
          w={150}
          allowDeselect={false}
          data={[
            { value: 'line', label: 'rounded by line' },
            { value: 'rate', label: 'rounded by rate' },
          ]}
          value={tax.rounding ?? 'line'}
          onChange={(rounding) => set({ tax: { ...tax, rounding } as Rule['tax'] })}
        />
        <Select
          aria-label="Unit prices"
          w={150}
          allowDeselect={false}
          data={[
            { value: 'net', label: 'net unit prices' },
            { value: 'gross', label: 'gross unit prices' },
          ]}
          value={tax.target ?? 'net'}
          onChange={(target) => set({ tax: { ...tax, target } as Rule['tax'] })}
        />
        <TextInput
          aria-label="Rate of lines without one"
          placeholder="held without a rate"
          w={170}
          rightSection={<span className="dim small">%</span>}
          error={faultAt('tax.defaultRate')}
          value={tax.defaultRate === null || tax.defaultRate === undefined ? '' : String(tax.defaultRate)}
          onChange={(e) => set({ tax: { ...tax, defaultRate: e.currentTarget.value || null } as Rule['tax'] })}
        />
      </Step>
      <Step name="Where it does not add up">
        <Select
          aria-label="Where it does not add up"
          w={220}
          allowDeselect={false}
          data={[
            { value: 'hold', label: 'hold the order' },
            { value: 'line', label: 'a line makes up for it, up to' },
          ]}
          value={rule.difference ?? 'hold'}
          onChange={(v) => set({ difference: v as Rule['difference'] })}
        />
        {rule.difference === 'line' && (
          <TextInput
            aria-label="Up to"
            w={100}
            rightSection={<span className="dim small">{currency}</span>}
            error={faultAt('differenceUpTo')}
            value={String(rule.differenceUpTo ?? 0.05)}
            onChange={(e) => set({ differenceUpTo: e.currentTarget.value })}
          />
        )}
      </Step>
    </>
  )
}
