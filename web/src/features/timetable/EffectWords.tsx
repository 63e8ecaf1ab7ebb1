import { dayAndClock } from '../../shared/format'
import type { JobEffect } from './job'

/** What follows, in words, with the next five times. */
export function EffectWords({ effect }: { effect: Pick<JobEffect, 'words' | 'next' | 'zone' | 'surprises'> }) {
  return (
    <div className="stack" role="status">
      <span className="strong">{effect.words}</span>
      {effect.next.length > 0 ? (
        <span>
          Next: <NextTimes next={effect.next} zone={effect.zone} />
        </span>
      ) : (
        <span className="dim">No time to come by the clock.</span>
      )}
      {effect.surprises.map((s) => (
        <div key={s} className="note ochre">
          <span>{s}</span>
        </div>
      ))}
    </div>
  )
}

/** Times by the clock of a job's own zone where it is another one than the workspace's. */
export function NextTimes({ next, zone }: { next: string[]; zone: string | null }) {
  return (
    <span className="mono small">
      {next.map(dayAndClock).join(' · ')}
      {zone && next[0] && inZone(next[0], zone)}
    </span>
  )
}

function inZone(at: string, zone: string) {
  const there = new Intl.DateTimeFormat('en-IE', { timeZone: zone, hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }).format(
    new Date(at),
  )
  return dayAndClock(at).endsWith(there) ? '' : ` (the first is ${there} in ${zone})`
}
