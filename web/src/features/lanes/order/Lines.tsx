import { SegmentedControl, Select, Switch } from '@mantine/core'
import { type Rule, Step, type StepOf, Typed } from './Step'

/** Which items of the hub an order's lines, discounts and costs become. */
export function Lines({ of }: { of: StepOf }) {
  const { rule, set } = of
  return (
    <>
      <Step name="An unknown SKU">
        <Select
          aria-label="An unknown SKU"
          w={220}
          allowDeselect={false}
          data={[
            { value: 'hold', label: 'holds the order' },
            { value: 'use', label: 'becomes the default item' },
            { value: 'omit', label: 'is left out' },
          ]}
          value={rule.unknownItem ?? 'hold'}
          onChange={(v) => set({ unknownItem: v as Rule['unknownItem'] })}
        />
        {rule.unknownItem === 'use' && <Typed of={of} label="Default item" name="useItem" hint="article of the hub" />}
        <Switch
          label="kits become their parts"
          checked={rule.kits === 'split'}
          onChange={(e) => set({ kits: e.currentTarget.checked ? 'split' : 'keep' })}
        />
      </Step>
      <Step name="Discounts, shipping, fees">
        <SegmentedControl
          aria-label="Discounts"
          size="xs"
          data={[
            { value: 'line', label: 'discount as a line' },
            { value: 'spread', label: 'taken off the goods' },
          ]}
          value={rule.discounts ?? 'line'}
          onChange={(v) => set({ discounts: v as Rule['discounts'] })}
        />
        <Typed of={of} label="Item for discounts" name="discountItem" hint="item for discounts" />
        <Typed of={of} label="Item for shipping" name="shippingItem" hint="item for shipping" />
        <Typed of={of} label="Item for fees" name="feeItem" hint="item for fees" />
      </Step>
    </>
  )
}
