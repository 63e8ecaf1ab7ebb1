import { SegmentedControl } from '@mantine/core'
import type { PartOf } from './part'

/** Net or gross, on either side. */
export function Tax({ rule, set }: PartOf) {
  const tax = rule.tax ?? {}
  return (
    <>
      <span>Tax</span>
      <div className="row wrap">
        <SegmentedControl
          aria-label="The source's prices are"
          value={tax.source ?? 'net'}
          onChange={(v) => set({ tax: { ...tax, source: v as 'net' | 'gross' } })}
          data={[
            { value: 'net', label: 'net here' },
            { value: 'gross', label: 'gross here' },
          ]}
        />
        →
        <SegmentedControl
          aria-label="The target's prices are"
          value={tax.target ?? 'net'}
          onChange={(v) => set({ tax: { ...tax, target: v as 'net' | 'gross' } })}
          data={[
            { value: 'net', label: 'net there' },
            { value: 'gross', label: 'gross there' },
          ]}
        />
      </div>
    </>
  )
}
