import { Button, MultiSelect, SegmentedControl, Select, Switch, TagsInput, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { Choices, Faults, PriceRule } from '../draft'

type Band = NonNullable<PriceRule['bands']>[number]

const text = (n: number | string | null | undefined) => (n === null || n === undefined ? '' : String(n))
/** What is typed, with a comma taken for a point; nothing typed is no value. */
const typed = (t: string) => (t.trim() === '' ? null : t.trim().replace(',', '.'))

export function PriceForm(props: { rule: PriceRule; set: (rule: PriceRule) => void; choices: Choices; faults: Faults }) {
  const { rule, choices, faults } = props
  const set = (change: Partial<PriceRule>) => props.set({ ...rule, ...change })
  const bands = rule.bands ?? []
  const groups = rule.groups ?? []
  const setBand = (i: number, change: Partial<Band>) => set({ bands: bands.map((b, j) => (i === j ? { ...b, ...change } : b)) })
  const faultAt = (path: string) => faults.some((f) => f.path.startsWith(path))
  const ending = rule.ending ?? {}
  const tax = rule.tax ?? {}
  // The list that the price itself goes to is nobody else's.
  const own = choices.targetLists.length > 0 ? (rule.targetList ?? choices.targetLists[0]) : null
  const forGroups = [...new Set([...choices.groups.filter((g) => g !== own), ...groups.map((g) => g.group)])]
  return (
    <div className="field-grid">
      <span>Price from</span>
      <div className="row wrap">
        <Select
          aria-label="Price list"
          data={choices.priceLists}
          value={rule.priceList ?? null}
          onChange={(v) => set({ priceList: v })}
          error={faultAt('priceList')}
          w={130}
        />
        <MultiSelect
          aria-label="Lists to fall back on"
          placeholder={rule.fallbackLists?.length ? '' : 'no fallback list'}
          data={choices.priceLists.filter((l) => l !== rule.priceList)}
          value={rule.fallbackLists ?? []}
          onChange={(v) => set({ fallbackLists: v })}
          style={{ flex: 1 }}
        />
      </div>

      {(choices.targetLists.length > 0 || rule.targetList) && (
        <>
          <span>It becomes there</span>
          <Select
            aria-label="Price list there"
            w={130}
            data={choices.targetLists}
            value={own ?? null}
            allowDeselect={false}
            onChange={(v) => set({ targetList: v })}
            error={faultAt('targetList')}
          />
        </>
      )}

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

      <span style={{ gridColumn: '1 / -1' }}>Markup by band</span>
      <div className="stack" style={{ gridColumn: '1 / -1' }}>
        {bands.length > 0 && (
          <div className="bandset small">
            <span className="dim">from{choices.sourceUnit ? `, ${choices.sourceUnit}` : ''}</span>
            <span className="dim">to below</span>
            <span className="dim">change, %</span>
            <span className="dim">factor ×</span>
            <span className="dim">in words</span>
            <span />
            {bands.map((b, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: bands have no other name than their place
              <BandRow key={i} band={b} n={i} set={(c) => setBand(i, c)} bad={faultAt(`bands[${i}]`)}>
                <Button
                  size="compact-xs"
                  aria-label={`Remove band ${i + 1}`}
                  onClick={() => set({ bands: bands.filter((_, j) => j !== i) })}
                >
                  ✕
                </Button>
              </BandRow>
            ))}
          </div>
        )}
        <div>
          <Button
            size="xs"
            onClick={() => set({ bands: [...bands, { from: text(bands.at(-1)?.to ?? '0'), to: null, multiply: '1', add: '0' }] })}
          >
            Add a band
          </Button>
        </div>
      </div>

      <label htmlFor="rate">Currency rate ×</label>
      <TextInput
        id="rate"
        w={110}
        value={text(rule.currencyRate)}
        error={faultAt('currencyRate')}
        onChange={(e) => set({ currencyRate: typed(e.currentTarget.value) ?? '' })}
        onBlur={() => rule.currencyRate === '' && set({ currencyRate: '1' })}
      />

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

      {forGroups.length > 0 && (
        <>
          <span>Customer groups</span>
          <div className="stack" style={{ gap: 6 }}>
            {forGroups.map((group) => (
              <div key={group} className="row">
                <span style={{ width: 110 }}>{group}</span>
                <Select
                  aria-label={`Price list for ${group}`}
                  w={190}
                  clearable
                  placeholder="stays as it is there"
                  data={choices.priceLists}
                  value={groups.find((g) => g.group === group)?.priceList ?? null}
                  error={faultAt(`groups[${groups.findIndex((g) => g.group === group)}]`)}
                  onChange={(v) =>
                    set({ groups: [...groups.filter((g) => g.group !== group), ...(v === null ? [] : [{ group, priceList: v }])] })
                  }
                />
              </div>
            ))}
          </div>
        </>
      )}
    </div>
  )
}

/** The change and the factor are the same thing said twice, so that neither can be mistaken for the other. */
function BandRow(props: { band: Band; n: number; set: (change: Partial<Band>) => void; bad: boolean; children: React.ReactNode }) {
  const { band, n, set, bad } = props
  const factor = Number(band.multiply ?? 1)
  const percent = Number.isFinite(factor) ? Math.round((factor - 1) * 1e6) / 1e4 : Number.NaN
  const change = percent === 0 ? 'unchanged' : `${percent > 0 ? '+' : '−'}${Math.abs(percent)} %`
  const example = (10 * factor + Number(band.add ?? 0)).toFixed(2)
  const words = Number.isFinite(factor) ? `${change}: 10.00 becomes ${example}` : 'not a number'
  return (
    <>
      <TextInput
        aria-label={`Band ${n + 1} from`}
        size="xs"
        value={text(band.from)}
        onChange={(e) => set({ from: typed(e.currentTarget.value) ?? '0' })}
      />
      <TextInput
        aria-label={`Band ${n + 1} to`}
        size="xs"
        placeholder="open"
        value={text(band.to)}
        onChange={(e) => set({ to: typed(e.currentTarget.value) })}
      />
      <PercentInput n={n} percent={percent} set={(p) => set({ multiply: String(Math.round((1 + p / 100) * 1e6) / 1e6) })} />
      <TextInput
        aria-label={`Band ${n + 1} factor`}
        size="xs"
        error={bad}
        value={text(band.multiply)}
        onChange={(e) => set({ multiply: typed(e.currentTarget.value) ?? '' })}
      />
      <span className={bad ? 'minus' : undefined}>{words}</span>
      {props.children}
    </>
  )
}

/** Counts while it is typed, as the factor does. */
function PercentInput({ n, percent, set }: { n: number; percent: number; set: (percent: number) => void }) {
  const shown = Number.isFinite(percent) ? `${percent > 0 ? '+' : ''}${percent}` : ''
  // What is typed stands as it is while the cursor is in it, e.g. “+1.” on the way to “+1.5”.
  const [typing, setTyping] = useState<string | null>(null)
  return (
    <TextInput
      aria-label={`Band ${n + 1} change in percent`}
      size="xs"
      value={typing ?? shown}
      onBlur={() => setTyping(null)}
      onChange={(e) => {
        const text = e.currentTarget.value
        setTyping(text)
        const p = Number(text.replace(',', '.').replace('−', '-'))
        if (text.trim() !== '' && Number.isFinite(p)) set(p)
      }}
    />
  )
}

/** What an ending begins with, so that nothing that only looks like a value has to be typed. */
const begun = (ending: NonNullable<PriceRule['ending']>): NonNullable<PriceRule['ending']> =>
  ending.kind === 'charm' && !ending.endings?.length
    ? { ...ending, endings: ['0.99'] }
    : ending.kind === 'step' && ending.step == null
      ? { ...ending, step: '0.05' }
      : ending
