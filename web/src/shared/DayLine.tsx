const top = 4
const bottom = 19

/** A line over the last days, today last; days of which nothing is known are bridged. */
export function DayLine(props: { days: (number | null)[]; label: string; from?: number; to?: number; short?: boolean }) {
  const step = props.short ? 4 : 7
  const known = props.days.flatMap((n, i) => (n === null ? [] : [{ i, n }]))
  const low = props.from ?? 0
  const high = Math.max(props.to ?? 0, low + 1e-9, ...known.map((k) => k.n))
  const x = (i: number) => i * step
  const y = (n: number) => bottom - ((Math.max(n, low) - low) / (high - low)) * (bottom - top)
  const now = known.at(-1)
  const width = (props.days.length - 1) * step
  return (
    <svg
      width={width + 7}
      height={props.short ? 16 : 22}
      viewBox={`-2 ${props.short ? 3 : 0} ${width + 7} ${props.short ? 18 : 22}`}
      role="img"
      aria-label={props.label}
      style={{ justifySelf: 'end', flex: 'none' }}
    >
      <title>{props.label}</title>
      {known.length > 1 && (
        <polyline
          points={known.map((k) => `${x(k.i)},${y(k.n)}`).join(' ')}
          fill="none"
          stroke="var(--ink-2)"
          strokeWidth="1.4"
          strokeLinejoin="round"
        />
      )}
      {now && <circle cx={x(now.i)} cy={y(now.n)} r="2.6" fill="var(--clay)" />}
    </svg>
  )
}
