import { SegmentedControl, Switch } from '@mantine/core'
import type { PriceRule } from '../draft'
import type { PartOf } from './part'

/** What becomes of a live sale. */
export function Sale({ rule, set }: PartOf) {
  return (
    <>
      <span>A live sale</span>
      <div className="row wrap">
        <SegmentedControl
          aria-label="Sale"
          value={rule.sale ?? 'ignore'}
          onChange={(v) => set({ sale: v as PriceRule['sale'] })}
          data={[
            { value: 'ignore', label: 'is ignored' },
            { value: 'merge', label: 'becomes the price' },
            { value: 'carry', label: 'goes beside it' },
          ]}
        />
        {rule.sale === 'merge' && (
          <Switch
            label="even when higher"
            checked={rule.allowHigherSale ?? false}
            onChange={(e) => set({ allowHigherSale: e.currentTarget.checked })}
          />
        )}
      </div>
    </>
  )
}
