import { Button, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { PriceRule } from '../draft'
import { type PartOf, text, typed } from './part'

type Band = NonNullable<PriceRule['bands']>[number]

/** What is added by how much it costs: bands from and to below, each a change in percent or the factor that it comes to. */
export function Bands({ rule, set, choices, faultAt }: PartOf) {
  const bands = rule.bands ?? []
  const setBand = (i: number, change: Partial<Band>) => set({ bands: bands.map((b, j) => (i === j ? { ...b, ...change } : b)) })
  return (
    <>
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
    </>
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
