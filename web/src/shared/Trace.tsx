import type { TraceStep } from './api'
import { shown } from './shown'

const names: Record<string, string> = {
  pick: 'List price',
  sale: 'Sale',
  bands: 'Band',
  currency: 'Currency',
  tax: 'Tax',
  ending: 'Ending',
  floor: 'Floor',
  compareAt: 'Compare-at',
  untracked: 'Not tracked',
  basis: 'Basis',
  share: 'Share',
  holdBack: 'Hold back',
  zeroBelow: 'Zero below',
  cap: 'Cap',
  neverNegative: 'Never negative',
  firstPublish: 'First publication',
  replenish: 'Replenish',
}

// A step of a chain goes by its own name, and says in words what it does.
const spoken = (step: string) => step.charAt(0).toUpperCase() + step.slice(1).replace(/[A-Z]/g, (c) => ` ${c.toLowerCase()}`)

const name = (step = '') =>
  names[step] ?? (step.startsWith('sale ') ? `Sale price: ${(names[step.slice(5)] ?? step).toLowerCase()}` : spoken(step))

/** The chain of steps that led to a value; steps that changed nothing stand back. */
export function Trace({ steps }: { steps: TraceStep[] }) {
  return (
    <ol className="trace">
      {steps.map((s, i) => (
        <li key={`${s.step}-${i.toString()}`} className={s.before === s.after ? 'idle' : undefined}>
          <span>{name(s.step)}</span>
          <span className={s.after && s.after.length > 14 ? 'trace-long' : 'num strong'}>{shown(s.after)}</span>
          <span className="why">{s.why}</span>
        </li>
      ))}
    </ol>
  )
}
