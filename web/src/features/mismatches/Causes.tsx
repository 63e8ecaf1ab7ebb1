import { harmsNow } from '../../shared/harms'
import { Ledger } from '../../shared/Ledger'
import { Empty } from '../../shared/states'
import type { Cause } from './mismatch'

/** The causes as a ledger: first what does harm now, then what waits. */
export function Causes({ causes, filtered, open }: { causes: Cause[]; filtered: boolean; open: (cause: string) => void }) {
  const now = causes.filter((c) => harmsNow.has(c.harm))
  const later = causes.filter((c) => !harmsNow.has(c.harm))
  if (causes.length === 0)
    return (
      <section className="sheet">
        <Empty title={filtered ? 'Nothing of this is here' : 'Everything matches'}>
          {filtered ? 'Take a filter away to see more.' : 'What needs a person comes here by itself, from every part of Narbit.'}
        </Empty>
      </section>
    )
  return (
    <div className="stack" style={{ overflow: 'auto', minHeight: 0, gap: 14 }}>
      {now.length > 0 && <Ledger title="Does harm now" causes={now} open={open} />}
      {later.length > 0 && <Ledger title="Waits for somebody" causes={later} open={open} />}
    </div>
  )
}
