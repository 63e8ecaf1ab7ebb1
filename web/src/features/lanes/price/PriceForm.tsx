import { Select, TextInput } from '@mantine/core'
import type { Choices, Faults, PriceRule } from '../draft'
import { Bands } from './Bands'
import { Ending } from './Ending'
import { Groups, Lists } from './Lists'
import { type PartOf, text, typed } from './part'
import { Sale } from './Sale'
import { Tax } from './Tax'

/** A price rule in the order in which a price is computed. */
export function PriceForm(props: { rule: PriceRule; set: (rule: PriceRule) => void; choices: Choices; faults: Faults }) {
  const { rule, choices, faults } = props
  const set = (change: Partial<PriceRule>) => props.set({ ...rule, ...change })
  const faultAt = (path: string) => faults.some((f) => f.path.startsWith(path))
  const of: PartOf = { rule, set, choices, faultAt }
  return (
    <div className="field-grid">
      <Lists {...of} />
      <Sale {...of} />
      <Bands {...of} />

      <label htmlFor="rate">Currency rate ×</label>
      <TextInput
        id="rate"
        w={110}
        value={text(rule.currencyRate)}
        error={faultAt('currencyRate')}
        onChange={(e) => set({ currencyRate: typed(e.currentTarget.value) ?? '' })}
        onBlur={() => rule.currencyRate === '' && set({ currencyRate: '1' })}
      />
      <Tax {...of} />
      <Ending {...of} />
      <label htmlFor="margin">Least margin</label>
      <TextInput
        id="margin"
        w={110}
        rightSection={<span className="dim">%</span>}
        placeholder="no floor"
        value={text(rule.minMargin)}
        error={faultAt('minMargin')}
        onChange={(e) => set({ minMargin: typed(e.currentTarget.value) })}
      />

      <span>Struck through beside it</span>
      <Select
        aria-label="Compare-at list"
        w={170}
        clearable
        placeholder="nothing"
        data={choices.priceLists}
        value={rule.compareAtList ?? null}
        onChange={(v) => set({ compareAtList: v })}
      />
      <Groups {...of} />
    </div>
  )
}
