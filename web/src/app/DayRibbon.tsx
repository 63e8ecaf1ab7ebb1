import { useElementSize } from '@mantine/hooks'
import { useQuery } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { useEffect, useState } from 'react'
import type { Schemas } from '../shared/api'
import { clock } from '../shared/format'
import { queries } from '../shared/queries'

type Ribbon = Schemas['Ribbon']

const middle = 18

const outcomes: Record<string, string> = {
  done: 'done',
  waits: 'waits for a person',
  failed: 'failed',
  working: 'at work',
}

/** The day as a line: past runs as ticks by outcome, now as a marker, coming runs as outlines. */
export function DayRibbon() {
  const ribbon = useQuery({
    ...queries.ribbon(),
    refetchInterval: 60_000,
  })
  const now = useNow()
  const { ref, width } = useElementSize()
  return (
    <div ref={ref} style={{ height: 44 }}>
      {ribbon.data && width > 0 && <Line ribbon={ribbon.data} now={Math.max(now, Date.parse(ribbon.data.now))} width={width} />}
    </div>
  )
}

function useNow() {
  const [now, setNow] = useState(() => Date.now())
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 15_000)
    return () => clearInterval(timer)
  }, [])
  return now
}

function Line({ ribbon, now, width }: { ribbon: Ribbon; now: number; width: number }) {
  const navigate = useNavigate()
  const [from, until] = [Date.parse(ribbon.from), Date.parse(ribbon.until)]
  const x = (at: number) => ((at - from) / (until - from)) * width
  const here = Math.min(width - 2, x(now))
  // The time of day stands at the marker; an hour beside it would run into it.
  const hours = Array.from({ length: 7 }, (_, i) => from + (i + 1) * 3 * 3600_000).filter((h) => h < until && Math.abs(x(h) - here) > 30)

  // Runs that overlap thicken the tick instead of hiding each other.
  const slots = new Map<string, { at: number; outcome: string; runs: Ribbon['past'] }>()
  for (const run of ribbon.past) {
    const slot = `${Math.round(x(Date.parse(run.at)) / 3)}:${run.outcome}`
    const found = slots.get(slot)
    if (found) found.runs.push(run)
    else slots.set(slot, { at: Date.parse(run.at), outcome: run.outcome, runs: [run] })
  }

  return (
    // biome-ignore lint/a11y/useSemanticElements: a drawing, in which each run is a link
    <svg className="ribbon" viewBox={`0 0 ${width} 44`} role="group" aria-label="The day">
      <line x1={0} x2={width} y1={middle} y2={middle} stroke="var(--rule)" />
      {hours.map((h) => (
        <text key={h} x={x(h)} y={40} textAnchor="middle">
          {clock(new Date(h).toISOString()).slice(0, 2)}
        </text>
      ))}
      {ribbon.coming
        .filter((c) => Date.parse(c.at) > now)
        .map((c) => (
          <rect
            key={`${c.jobId}${c.at}`}
            x={x(Date.parse(c.at)) - 2}
            y={middle - 5}
            width={4}
            height={10}
            rx={1}
            fill="none"
            stroke="var(--ink-2)"
          >
            <title>{`${clock(c.at)} ${c.job}, to come`}</title>
          </rect>
        ))}
      {[...slots.values()].map((slot) => {
        const run = slot.runs.at(-1) as Ribbon['past'][number]
        const several = slot.runs.length > 1 ? `${slot.runs.length} runs, last ` : ''
        const label = `${clock(run.at)} ${several}${run.lane}: ${outcomes[slot.outcome] ?? slot.outcome}`
        return (
          // biome-ignore lint/a11y/useSemanticElements: a link inside a drawing
          <g
            key={run.runId}
            role="link"
            tabIndex={0}
            aria-label={label}
            style={{ cursor: 'pointer' }}
            onClick={() => void navigate({ to: '/runs/$run', params: { run: String(run.runId) } })}
            onKeyDown={(e) => e.key === 'Enter' && void navigate({ to: '/runs/$run', params: { run: String(run.runId) } })}
          >
            <title>{label}</title>
            <Tick x={x(slot.at)} outcome={slot.outcome} thick={Math.min(4, slot.runs.length)} />
          </g>
        )
      })}
      <line x1={here} x2={here} y1={4} y2={34} stroke="var(--clay)" strokeWidth={1.6} />
      <text x={Math.min(width - 18, Math.max(18, here))} y={43} textAnchor="middle" style={{ fill: 'var(--clay)', fontWeight: 700 }}>
        {clock(new Date(now).toISOString())}
      </text>
    </svg>
  )
}

function Tick({ x, outcome, thick }: { x: number; outcome: string; thick: number }) {
  const w = 3 + thick
  if (outcome === 'failed') return <path d={`M${x} ${middle - 9}l5 9l-5 9l-5 -9z`} fill="var(--harm)" stroke="var(--sheet)" />
  if (outcome === 'waits') return <rect x={x - w / 2} y={middle - 11} width={w} height={22} rx={1.5} fill="var(--ochre)" />
  return <rect x={x - w / 2} y={middle - 7} width={w} height={14} rx={1.5} fill={outcome === 'working' ? 'var(--ink-2)' : 'var(--glaze)'} />
}
