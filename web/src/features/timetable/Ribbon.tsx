import { useElementSize } from '@mantine/hooks'
import { useNavigate } from '@tanstack/react-router'
import { clock, count, dayAndClock } from '../../shared/format'
import { type JobRibbon, outcomeOf, type Timetable } from './job'

const height = 34
const middle = 17

type Span = { from: number; until: number; width: number }

const placeOf =
  ({ from, until, width }: Span) =>
  (at: string | number) =>
    (((typeof at === 'string' ? Date.parse(at) : at) - from) / (until - from)) * width

const spanOf = (view: Timetable, width: number): Span => ({ from: Date.parse(view.from), until: Date.parse(view.until), width })

/** The hours above the ribbons, as the clock shows them; where the clocks are changed it says so. */
export function Hours({ view }: { view: Timetable }) {
  const { ref, width } = useElementSize()
  const isWeek = view.hours.length > 30
  const x = placeOf(spanOf(view, width))
  const shown = view.hours.filter((h) => (isWeek ? h.label === '00:00' : Number(h.label.slice(0, 2)) % 3 === 0) || h.changed)
  return (
    <div ref={ref} style={{ height: 20 }}>
      {width > 0 && (
        <svg className="ribbon" style={{ height: 20 }} viewBox={`0 0 ${width} 20`} role="img" aria-label="The hours">
          {shown.map((h) => (
            <text key={h.at} x={Math.min(width - 34, x(h.at) + 2)} y={14} style={h.changed ? { fill: 'var(--clay)', fontWeight: 700 } : {}}>
              {isWeek && !h.changed ? dayAndClock(h.at).split(',')[0] : h.changed ? `${h.label} clocks changed` : h.label}
            </text>
          ))}
        </svg>
      )}
    </div>
  )
}

/** A job's day: what ran as ticks by outcome with their length, what is to come as outlines, days off shaded, now as a marker. */
export function Ribbon({ view, ribbon, now }: { view: Timetable; ribbon: JobRibbon; now: number }) {
  const { ref, width } = useElementSize()
  return (
    <div ref={ref} style={{ height }}>
      {width > 0 && <Line view={view} ribbon={ribbon} now={now} width={width} />}
    </div>
  )
}

function Line({ view, ribbon, now, width }: { view: Timetable; ribbon: JobRibbon; now: number; width: number }) {
  const span = spanOf(view, width)
  const x = placeOf(span)
  const coming = apart(
    ribbon.coming.filter((at) => Date.parse(at) > now),
    x,
  )
  return (
    // biome-ignore lint/a11y/useSemanticElements: a drawing, in which each turn is a link
    <svg
      className="ribbon"
      style={{ height }}
      viewBox={`0 0 ${width} ${height}`}
      role="group"
      aria-label={`The day of ${ribbon.job.document.name}`}
    >
      {view.off.map((d) => (
        <rect key={d.date} x={x(d.from)} width={x(d.until) - x(d.from)} y={0} height={height} fill="var(--chosen)">
          <title>{`${d.date}, a day off${d.name ? `: ${d.name}` : ''}`}</title>
        </rect>
      ))}
      {view.hours
        .filter((h) => h.changed)
        .map((h) => (
          <line key={h.at} x1={x(h.at)} x2={x(h.at)} y1={0} y2={height} stroke="var(--clay)" strokeDasharray="2 2" />
        ))}
      <line x1={0} x2={width} y1={middle} y2={middle} stroke="var(--rule)" />
      {coming.map(({ at, times }) => (
        <rect key={at} x={x(at) - 2} y={middle - 5} width={4} height={10} rx={1} fill="none" stroke="var(--ink-2)">
          <title>{`${clock(at)}, to come${times > 1 ? ` (${count(times)} close together)` : ''}`}</title>
        </rect>
      ))}
      {ribbon.past.map((tick) => (
        <Tick key={tick.id} tick={tick} from={x(tick.at)} until={x(tick.endedAt ?? now)} job={ribbon.job.id} />
      ))}
      {now > span.from && now < span.until && (
        <line x1={x(now)} x2={x(now)} y1={1} y2={height - 1} stroke="var(--clay)" strokeWidth={1.6} />
      )}
    </svg>
  )
}

// Times that would be drawn over each other are drawn once.
function apart(times: string[], x: (at: string) => number) {
  const shown: { at: string; times: number }[] = []
  for (const at of times) {
    const last = shown.at(-1)
    if (last && x(at) - x(last.at) < 5) last.times++
    else shown.push({ at, times: 1 })
  }
  return shown
}

function Tick({ tick, from, until, job }: { tick: JobRibbon['past'][number]; from: number; until: number; job: string }) {
  const navigate = useNavigate()
  const [word] = outcomeOf(tick)
  const label = `${clock(tick.at)} ${word}${tick.times > 1 ? `, for ${count(tick.times)} times` : ''}${tick.small ? ', a few records' : ''}`
  const open = () =>
    tick.runId
      ? void navigate({ to: '/runs/$run', params: { run: String(tick.runId) }, search: {} })
      : void navigate({ to: '/timetable/$job', params: { job }, search: {} })
  return (
    // biome-ignore lint/a11y/useSemanticElements: a link inside a drawing
    <g
      role="link"
      tabIndex={0}
      aria-label={label}
      style={{ cursor: 'pointer' }}
      onClick={open}
      onKeyDown={(e) => e.key === 'Enter' && open()}
    >
      <title>{label}</title>
      <Shape tick={tick} x={from} width={Math.max(4, until - from)} />
    </g>
  )
}

function Shape({ tick, x, width }: { tick: JobRibbon['past'][number]; x: number; width: number }) {
  switch (tick.outcome) {
    case 'failed':
      return <path d={`M${x} ${middle - 9}l5 9l-5 9l-5 -9z`} fill="var(--harm)" stroke="var(--sheet)" />
    case 'waits':
      return <rect x={x} y={middle - 11} width={width} height={22} rx={1.5} fill="var(--ochre)" />
    case 'notRun':
      return (
        <path
          d={`M${x - 3} ${middle - 3}l6 6m0 -6l-6 6M${x} ${middle}h${width}`}
          stroke={tick.fate === 'missed' ? 'var(--ochre)' : 'var(--ink-2)'}
          strokeDasharray={width > 8 ? '1 3' : undefined}
          fill="none"
          strokeWidth={1.4}
        />
      )
    case 'working':
      return <rect x={x} y={middle - 7} width={width} height={14} rx={1.5} fill="var(--ink-2)" />
    default:
      return <rect x={x} y={tick.small ? middle - 3 : middle - 7} width={width} height={tick.small ? 6 : 14} rx={1.5} fill="var(--glaze)" />
  }
}
