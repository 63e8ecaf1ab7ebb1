import type { UseQueryResult } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import type { Schemas } from '../../shared/api'
import { Scrolls } from '../../shared/Scrolls'
import { Seam } from '../../shared/Seam'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import type { Couple, DeskRow } from './actions'

const effects: Record<Schemas['EvidenceEffect'], [string, string, string]> = {
  for: ['+', 'speaks for it', 'var(--glaze)'],
  neutral: ['·', 'weighs nothing', 'var(--ink-2)'],
  against: ['−', 'speaks against it', 'var(--clay)'],
  forbids: ['✕', 'rules it out', 'var(--harm)'],
}

export function EvidenceList({ evidence }: { evidence: Schemas['Evidence'][] }) {
  return (
    <ul className="evidence">
      {evidence.map((e) => {
        const [glyph, word, color] = effects[e.effect]
        return (
          <li key={`${e.kind}${e.words}`}>
            <span className="strong" style={{ color }} role="img" aria-label={word} title={word}>
              {glyph}
            </span>
            <span>{e.words}</span>
          </li>
        )
      })}
    </ul>
  )
}

/** Both records with every field, one sign between them, and why. */
export function DeskSeam({ couple, row, seam }: { couple: Couple; row: DeskRow | undefined; seam: UseQueryResult<Schemas['DeskSeam']> }) {
  if (!row)
    return (
      <section className="sheet" aria-label="Seam">
        <Empty title="No record is chosen">j and k move through the list.</Empty>
      </section>
    )
  return (
    <section className="sheet" aria-label="Seam">
      <Scrolls label="Both records">
        <Loaded of={seam}>
          {(view) => (
            <>
              <Seam
                left={
                  <>
                    <SystemMark system={couple.hub} />
                    {view.hub && couple.kind === 'item' ? (
                      <Link to="/items/$item" params={{ item: view.hub.key }} className="mono">
                        {view.hub.key}
                      </Link>
                    ) : (
                      <span className="mono">{view.hub?.key ?? 'no record'}</span>
                    )}
                    {view.hub?.gone && <span className="tag harm">gone</span>}
                  </>
                }
                right={
                  <>
                    <SystemMark system={couple.other} /> <span className="mono">{view.other?.key ?? 'no record'}</span>
                    {view.other?.gone && <span className="tag harm">gone</span>}
                  </>
                }
                rows={view.rows}
              />
              {view.kit.length > 0 && (
                <div className="line" style={{ display: 'block' }}>
                  <span className="strong">A kit of </span>
                  {view.kit.map((k) => `${k.quantity} × ${k.hubKey}`).join(', ')}
                </div>
              )}
            </>
          )}
        </Loaded>
      </Scrolls>
      {seam.data && seam.data.evidence.length > 0 && (
        <Scrolls label="Evidence" style={{ maxHeight: 168, flex: 'none' }}>
          <EvidenceList evidence={seam.data.evidence} />
        </Scrolls>
      )}
    </section>
  )
}
