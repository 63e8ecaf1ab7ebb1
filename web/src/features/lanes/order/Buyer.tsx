import { MultiSelect, Select, TextInput } from '@mantine/core'
import { type Rule, Step, type StepOf } from './Step'

const keys = [
  { value: 'account', label: 'account' },
  { value: 'email', label: 'email' },
  { value: 'phone', label: 'phone' },
  { value: 'nameAndPostcode', label: 'name and postcode' },
]

/** Which customer of the hub an order belongs to. */
export function Buyer({ of }: { of: StepOf }) {
  const { rule, set, faultAt } = of
  const customer = rule.customer ?? {}
  return (
    <Step name="Customer">
      <MultiSelect
        aria-label="Found by, in turn"
        data={keys}
        value={(customer.match as string[] | undefined) ?? keys.map((k) => k.value)}
        error={faultAt('customer.match')}
        onChange={(match) => set({ customer: { ...customer, match } as Rule['customer'] })}
      />
      <Select
        aria-label="Where none is found"
        w={200}
        allowDeselect={false}
        data={[
          { value: 'create', label: 'create one' },
          { value: 'hold', label: 'hold the order' },
          { value: 'use', label: 'use this customer' },
        ]}
        value={customer.missing ?? 'create'}
        onChange={(missing) => set({ customer: { ...customer, missing } as Rule['customer'] })}
      />
      {customer.missing === 'use' && (
        <TextInput
          aria-label="Customer that is used"
          placeholder="customer of the hub"
          w={170}
          error={faultAt('customer.use')}
          value={customer.use ?? ''}
          onChange={(e) => set({ customer: { ...customer, use: e.currentTarget.value || null } as Rule['customer'] })}
        />
      )}
    </Step>
  )
}
