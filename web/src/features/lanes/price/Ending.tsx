import { SegmentedControl, TagsInput, TextInput } from '@mantine/core'
import type { PriceRule } from '../draft'
import { type PartOf, text, typed } from './part'

/** How a price ends. */
export function Ending({ rule, set, faultAt }: PartOf) {
  const ending = rule.ending ?? {}
  return (
    <>
      <span>Ending</span>
      <div className="row wrap">
        <SegmentedControl
          aria-label="Ending"
          value={ending.kind ?? 'none'}
          onChange={(v) => set({ ending: begun({ ...ending, kind: v as 'none' | 'step' | 'charm' }) })}
          data={[
            { value: 'none', label: 'rounded' },
            { value: 'step', label: 'to a step' },
            { value: 'charm', label: 'like .99' },
          ]}
        />
        {ending.kind === 'step' && (
          <TextInput
            aria-label="Step"
            w={80}
            value={text(ending.step)}
            error={faultAt('ending.step')}
            onChange={(e) => set({ ending: { ...ending, step: typed(e.currentTarget.value) } })}
          />
        )}
        {ending.kind === 'charm' && (
          <TagsInput
            aria-label="Endings"
            w={220}
            value={(ending.endings ?? []).map(String)}
            error={faultAt('ending.endings')}
            onChange={(v) =>
              set({
                ending: {
                  ...ending,
                  endings: v.map((t) => typed(t) ?? '0').map((t) => (t.startsWith('.') ? `0${t}` : t)),
                },
              })
            }
          />
        )}
        {ending.kind !== 'none' && ending.kind !== undefined && (
          <SegmentedControl
            aria-label="Direction"
            value={ending.direction ?? 'nearest'}
            onChange={(v) => set({ ending: { ...ending, direction: v as 'nearest' | 'up' | 'down' } })}
            data={['nearest', 'up', 'down']}
          />
        )}
        {(ending.kind ?? 'none') === 'none' && (
          <SegmentedControl
            aria-label="Halves"
            value={rule.rounding ?? 'halfUp'}
            onChange={(v) => set({ rounding: v as PriceRule['rounding'] })}
            data={[
              { value: 'halfUp', label: 'halves up' },
              { value: 'halfEven', label: 'halves to even' },
            ]}
          />
        )}
      </div>
    </>
  )
}

/** What an ending begins with, so that nothing that only looks like a value has to be typed. */
const begun = (ending: NonNullable<PriceRule['ending']>): NonNullable<PriceRule['ending']> =>
  ending.kind === 'charm' && !ending.endings?.length
    ? { ...ending, endings: ['0.99'] }
    : ending.kind === 'step' && ending.step == null
      ? { ...ending, step: '0.05' }
      : ending
