import { Fragment, type ReactNode } from 'react'
import type { Schemas } from './api'
import { shown } from './shown'

type Row = Schemas['SeamRow']

export const signs: Record<Row['sign'], [string, string, string]> = {
  same: ['=', 'same', 'var(--glaze)'],
  sameByMeaning: ['≈', 'same by meaning', 'var(--glaze)'],
  willChange: ['→', 'would change there', 'var(--clay)'],
  changedThere: ['←', 'changed there', 'var(--ochre)'],
  changedOnBoth: ['⇄', 'changed on both sides', 'var(--harm)'],
  differs: ['≠', 'different; no lane moves it', 'var(--ink-2)'],
  missingHere: ['∅', 'missing here', 'var(--ochre)'],
  missingThere: ['∅', 'missing there', 'var(--ochre)'],
  notMapped: ['·', 'not mapped', 'var(--ink-2)'],
}

function Side({ label, text, unit }: { label: string; text?: string | null; unit?: string | null }) {
  return (
    <div>
      <div className="dim" style={{ fontSize: 12 }}>
        {label}
      </div>
      {text ? (
        <span className="strong">
          {shown(text)}
          {unit ? <span className="dim"> {unit}</span> : null}
        </span>
      ) : (
        <span className="dim">none</span>
      )}
    </div>
  )
}

/** Two records side by side, and between them one sign a field. */
export function Seam({ left, right, rows }: { left: ReactNode; right: ReactNode; rows: Row[] }) {
  return (
    <div className="seam">
      <div className="row">{left}</div>
      <div className="sign" />
      <div className="row">{right}</div>
      {rows.map((r) => {
        const [glyph, word, color] = signs[r.sign]
        return (
          <Fragment key={r.label}>
            <Side label={r.label} text={r.here} unit={r.hereUnit} />
            <div className="sign" style={{ color }} role="img" aria-label={word} title={word}>
              {glyph}
            </div>
            <Side label={r.label} text={r.there} unit={r.thereUnit} />
          </Fragment>
        )
      })}
    </div>
  )
}
