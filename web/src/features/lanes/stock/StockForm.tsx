import { Button, Checkbox, SegmentedControl, Switch, TextInput } from '@mantine/core'
import { Explained } from '../../../shared/Explained'
import type { Word } from '../../../shared/words'
import type { Choices, Faults, StockRule } from '../draft'

type Band = NonNullable<StockRule['bands']>[number]

const text = (n: number | string | null | undefined) => (n === null || n === undefined ? '' : String(n))
const typed = (t: string) => (t.trim() === '' ? null : t.trim())

export function StockForm(props: {
  rule: StockRule
  set: (rule: StockRule) => void
  open: boolean
  setOpen: (counts: boolean) => void
  choices: Choices
  faults: Faults
}) {
  const { rule, choices, faults } = props
  const set = (change: Partial<StockRule>) => props.set({ ...rule, ...change })
  const faultAt = (path: string) => faults.some((f) => f.path.startsWith(path))
  const bands = rule.bands ?? []
  const setBand = (i: number, change: Partial<Band>) => set({ bands: bands.map((b, j) => (i === j ? { ...b, ...change } : b)) })
  const replenish = rule.replenish ?? {}
  const amount = (
    label: string,
    key: 'share' | 'zeroBelow' | 'cap' | 'firstPublish' | 'holdBack' | 'untracked',
    unit: string,
    placeholder: string,
    fallback: string | null = null,
    word?: Word,
  ) => (
    <>
      <span>
        <label htmlFor={key}>{label}</label> {word && <Explained word={word}>?</Explained>}
      </span>
      <TextInput
        id={key}
        w={130}
        rightSection={<span className="dim small">{unit}</span>}
        rightSectionWidth={38}
        placeholder={placeholder}
        value={text(rule[key])}
        error={faultAt(key)}
        onChange={(e) => set({ [key]: typed(e.currentTarget.value) ?? fallback })}
      />
    </>
  )
  return (
    <div className="field-grid">
      <span>Count</span>
      <div className="row wrap">
        <SegmentedControl
          aria-label="Basis"
          value={rule.basis ?? 'available'}
          onChange={(v) => set({ basis: v as StockRule['basis'] })}
          data={[
            { value: 'available', label: 'on hand less allocated' },
            { value: 'onHand', label: 'on hand' },
          ]}
        />
        <Switch
          label="plus incoming"
          checked={rule.includeIncoming ?? false}
          onChange={(e) => set({ includeIncoming: e.currentTarget.checked })}
        />
        <Switch
          label="less what was sold and has not reached the hub"
          checked={props.open}
          onChange={(e) => props.setOpen(e.currentTarget.checked)}
        />
      </div>
      <span>At</span>
      <Checkbox.Group
        aria-label="Locations"
        value={rule.locations?.length ? rule.locations : choices.locations}
        onChange={(v) => set({ locations: v.length === choices.locations.length ? [] : v })}
      >
        <div className="row wrap">
          {choices.locations.map((l) => (
            <Checkbox key={l} value={l} label={l} />
          ))}
        </div>
      </Checkbox.Group>
      <span style={{ alignSelf: 'start', paddingTop: 6 }}>Bands</span>
      <div className="stack">
        {bands.map((b, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: bands have no other name than their place
          <div key={i} className="row small">
            <TextInput
              aria-label={`Band ${i + 1} from`}
              size="xs"
              w={70}
              placeholder="any"
              value={text(b.from)}
              onChange={(e) => setBand(i, { from: typed(e.currentTarget.value) })}
            />
            to
            <TextInput
              aria-label={`Band ${i + 1} to`}
              size="xs"
              w={70}
              placeholder="open"
              value={text(b.to)}
              onChange={(e) => setBand(i, { to: typed(e.currentTarget.value) })}
            />
            <SegmentedControl
              aria-label={`Band ${i + 1} does`}
              value={b.set === null || b.set === undefined ? 'add' : 'set'}
              onChange={(v) => setBand(i, v === 'add' ? { add: b.set ?? '0', set: null } : { set: b.add ?? '0', add: null })}
              data={[
                { value: 'add', label: 'adds' },
                { value: 'set', label: 'sets' },
              ]}
            />
            <TextInput
              aria-label={`Band ${i + 1} amount`}
              size="xs"
              w={70}
              error={faultAt(`bands[${i}]`)}
              value={text(b.set ?? b.add)}
              onChange={(e) =>
                setBand(
                  i,
                  b.set === null || b.set === undefined
                    ? { add: typed(e.currentTarget.value) }
                    : { set: typed(e.currentTarget.value) ?? '' },
                )
              }
            />
            pcs
            <Button size="compact-xs" aria-label={`Remove band ${i + 1}`} onClick={() => set({ bands: bands.filter((_, j) => j !== i) })}>
              ✕
            </Button>
          </div>
        ))}
        <div>
          <Button
            size="xs"
            onClick={() =>
              set({
                bands: [
                  ...bands,
                  {
                    from: bands.length ? String(Number(bands.at(-1)?.to ?? 0) + 1) : '0',
                    to: null,
                    add: '0',
                    set: null,
                  },
                ],
              })
            }
          >
            Add a band
          </Button>
        </div>
      </div>
      {amount('Share of it', 'share', '%', 'all', null, 'share')}
      {amount('Hold back', 'holdBack', 'pcs', '0', '0', 'hold back')}
      {amount('Nothing below', 'zeroBelow', 'pcs', 'no limit')}
      {amount('At most', 'cap', 'pcs', 'no cap')}
      {amount('A new listing starts with', 'firstPublish', 'pcs', 'the offer')}
      {amount('Items not counted', 'untracked', 'pcs', '1', '1')}
      <span>Negative</span>
      <Switch label="may be sent" checked={rule.allowNegative ?? false} onChange={(e) => set({ allowNegative: e.currentTarget.checked })} />
      <span>The store</span>
      <div className="row wrap">
        <SegmentedControl
          aria-label="Replenish"
          value={replenish.kind ?? 'mirror'}
          onChange={(v) => set({ replenish: { ...replenish, kind: v as 'mirror' | 'followIncrease' | 'topUp' } })}
          data={[
            { value: 'mirror', label: 'shows the offer' },
            { value: 'followIncrease', label: 'grows with deliveries' },
            { value: 'topUp', label: 'is topped up' },
          ]}
        />
        {replenish.kind === 'followIncrease' && (
          <TextInput
            aria-label="Grows to at most"
            placeholder="no limit"
            w={100}
            value={text(replenish.limit)}
            onChange={(e) => set({ replenish: { ...replenish, limit: typed(e.currentTarget.value) } })}
          />
        )}
        {replenish.kind === 'topUp' && (
          <>
            <TextInput
              aria-label="At or below"
              placeholder="at or below"
              w={100}
              error={faultAt('replenish')}
              value={text(replenish.atOrBelow)}
              onChange={(e) => set({ replenish: { ...replenish, atOrBelow: typed(e.currentTarget.value) } })}
            />
            <TextInput
              aria-label="Up to"
              placeholder="up to"
              w={80}
              error={faultAt('replenish')}
              value={text(replenish.to)}
              onChange={(e) => set({ replenish: { ...replenish, to: typed(e.currentTarget.value) } })}
            />
          </>
        )}
      </div>
    </div>
  )
}
