import { useElementSize } from '@mantine/hooks'
import { useQuery } from '@tanstack/react-query'
import type { Schemas } from '../../shared/api'
import { count, plural } from '../../shared/format'
import { queries } from '../../shared/queries'

type Day = Schemas['JobDay']

const height = 96
const floor = 78

/** The last days of a job: how its turns went, how much they wrote, how long they took. */
export function History({ job, atOnce }: { job: string; atOnce: boolean }) {
  const history = useQuery(queries.jobHistory(job, 14))
  const { ref, width } = useElementSize()
  const days = history.data ?? []
  const byClock = days.reduce((sum, d) => sum + d.byClock, 0)
  return (
    <section className="sheet" aria-label="The last 14 days">
      <div className="sheet-head">
        The last 14 days
        <span className="dim small" style={{ fontWeight: 400 }}>
          turns a day by outcome; the line is how long one took, in the middle
        </span>
        {atOnce && byClock > 0 && (
          <span className="dim small" style={{ fontWeight: 400 }}>
            {`the clock found ${plural(byClock, 'record')} that no event had told of`}
          </span>
        )}
      </div>
      <div ref={ref} className="pad" style={{ paddingTop: 0, height: height + 14 }}>
        {width > 0 && days.length > 0 && <Bars days={days} width={width} />}
      </div>
    </section>
  )
}

function Bars({ days, width }: { days: Day[]; width: number }) {
  const most = Math.max(1, ...days.map((d) => d.done + d.waits + d.failed + d.notRun))
  const longest = Math.max(0.1, ...days.map((d) => d.medianSeconds ?? 0))
  const step = width / days.length
  const y = (turns: number) => (turns / most) * (floor - 12)
  const line = days
    .map((d, i) => (d.medianSeconds === null ? null : `${i * step + step / 2},${floor - (d.medianSeconds / longest) * (floor - 16)}`))
    .filter(Boolean)
    .join(' ')
  return (
    <svg className="ribbon" style={{ height }} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={days.map(said).join('; ')}>
      <line x1={0} x2={width} y1={floor} y2={floor} stroke="var(--rule)" />
      {days.map((d, i) => {
        const x = i * step + step * 0.25
        let top = floor
        const part = (turns: number, fill: string) => {
          top -= y(turns)
          return turns > 0 && <rect key={fill} x={x} y={top} width={step * 0.5} height={Math.max(1, y(turns))} fill={fill} />
        }
        return (
          <g key={d.date}>
            <title>{said(d)}</title>
            <rect x={i * step} y={0} width={step} height={height} fill="transparent" />
            {part(d.done, 'var(--glaze)')}
            {part(d.waits, 'var(--ochre)')}
            {part(d.failed, 'var(--harm)')}
            {part(d.notRun, 'var(--rule)')}
            <text x={i * step + step / 2} y={height - 4} textAnchor="middle">
              {d.date.slice(8)}
            </text>
          </g>
        )
      })}
      <polyline points={line} fill="none" stroke="var(--ink)" strokeWidth={1.4} />
      <text x={width} y={10} textAnchor="end">{`${longest.toFixed(1)} s at most`}</text>
    </svg>
  )
}

const said = (d: Day) =>
  [
    `${d.date}: ${count(d.done)} done`,
    `${count(d.waits)} wait for a person`,
    `${count(d.failed)} failed`,
    `${count(d.notRun)} did not run`,
    `${count(d.written)} written`,
    ...(d.medianSeconds === null ? [] : [`${d.medianSeconds.toFixed(1)} s in the middle`]),
  ].join(', ')
