import { Button, FileButton, VisuallyHidden } from '@mantine/core'
import { useElementSize } from '@mantine/hooks'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Schemas } from '../../shared/api'
import { count, every, plural } from '../../shared/format'
import { trials } from '../../shared/queries'
import { Failed, Loaded } from '../../shared/states'
import type { JobDocument } from './job'

type Advice = Schemas['Advice']
type Option = Schemas['AdviceOption']
type ReplayedFile = NonNullable<Schemas['JobToAdvise']['file']>

/** This timetable and the others; one that is the same is told once. */
const distinct = (options: Option[]) => options.filter((o) => o.way === 'this' || o.minutes !== options[0]?.minutes)

const nameOf = (o: Option) => (o.way === 'atOnce' || o.minutes === 0 ? 'at once' : every(o.minutes))

/** What a timetable would have cost on orders that happened, beside others; one press takes another one into the form. */
export function Advisor(props: { id: string | null; document: JobDocument; choose: (some: Partial<JobDocument>) => void }) {
  const { id, document, choose } = props
  const [file, setFile] = useState<{ name: string; content: ReplayedFile }>()
  const [unread, setUnread] = useState<string>()
  const advice = useQuery({
    ...trials.advice({ id, document, file: file?.content ?? null }, file?.name),
    placeholderData: keepPreviousData,
  })
  const read = async (given: File | null) => {
    if (!given) return
    try {
      setFile({ name: given.name, content: JSON.parse(await given.text()) as ReplayedFile })
      setUnread(undefined)
    } catch {
      setUnread(`${given.name} cannot be read: it is no JSON with from, stock, orders and deliveries.`)
    }
  }
  return (
    <section className="sheet pad stack" aria-label="What it costs">
      <div className="row">
        <span className="strong grow">What it costs</span>
        <FileButton onChange={(f) => void read(f)} accept="application/json,.json">
          {(button) => <Button {...button}>On orders of a file</Button>}
        </FileButton>
        {file && (
          <button type="button" className="act" onClick={() => setFile(undefined)}>
            {`Not on ${file.name}`}
          </button>
        )}
      </div>
      {unread && <div className="note harm">{unread}</div>}
      {advice.isError ? (
        <Failed error={advice.error} />
      ) : (
        <Loaded of={advice}>{(data) => <Told advice={data} choose={choose} zone={document.timetable?.zone} />}</Loaded>
      )}
    </section>
  )
}

function Told({ advice, choose, zone }: { advice: Advice; choose: (some: Partial<JobDocument>) => void; zone: string | undefined }) {
  if (advice.orders === 0)
    return <span className="dim">No order of the last {advice.days} days is known yet; read a store’s orders first.</span>
  const takeIt = (o: Option) =>
    choose(
      o.way === 'atOnce'
        ? { atOnce: true }
        : {
            atOnce: false,
            lookEverySeconds: null,
            timetable: {
              zone: zone ?? 'UTC',
              at: null,
              every: { minutes: o.minutes, from: null, to: null },
              days: null,
              except: null,
              starts: null,
              ends: null,
            },
          },
    )
  return (
    <>
      <span className="strong" style={{ fontSize: 16 }}>
        {advice.sentence}
      </span>
      <div style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 200px', gap: 14 }}>
        <Options advice={advice} takeIt={takeIt} />
        <Chart options={advice.options} />
      </div>
      <Worst advice={advice} />
      <details className="dim small">
        <summary>{`By ${plural(advice.orders, 'order line')} of ${advice.days} days. What is taken for granted`}</summary>
        {advice.assumes.map((a) => (
          <div key={a}>{a}</div>
        ))}
      </details>
    </>
  )
}

function Options({ advice, takeIt }: { advice: Advice; takeIt: (o: Option) => void }) {
  return (
    <table className="plain-table">
      <thead>
        <tr>
          <th>Timetable</th>
          <th className="num">oversold</th>
          <th className="num">pieces short</th>
          <th className="num">missed</th>
          <th className="num">requests a day</th>
          <th>
            <VisuallyHidden>Take it</VisuallyHidden>
          </th>
        </tr>
      </thead>
      <tbody>
        {distinct(advice.options).map((o) => (
          <tr key={`${o.way}${o.minutes}`} title={o.requests.map((r) => `${r.name}: ${count(Math.round(r.aDay))} a day`).join('\n')}>
            <td className="nowrap">{o.way === 'this' ? <span className="strong">{`this: ${nameOf(o)}`}</span> : nameOf(o)}</td>
            <td className="num">{count(o.oversold)}</td>
            <td className="num">{count(o.short)}</td>
            <td className="num">{count(o.missed)}</td>
            <td className="num">{o.requestsADay === null ? 'not known' : count(Math.round(o.requestsADay))}</td>
            <td className="nowrap">
              {o.way !== 'this' && (
                <button type="button" className="act" aria-label={`Take it: ${nameOf(o)}`} onClick={() => takeIt(o)}>
                  Take it
                </button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

const height = 150

/** Oversold against requests, the choice marked; to the left and below is better. */
function Chart({ options }: { options: Option[] }) {
  const { ref, width } = useElementSize()
  const known = distinct(options).filter((o) => o.requestsADay !== null)
  if (known.length === 0) return <span className="dim small">What it takes in requests is known after a first run.</span>
  const most = Math.max(1, ...known.map((o) => o.oversold))
  const dearest = Math.max(1, ...known.map((o) => o.requestsADay ?? 0))
  const x = (o: Option) => 30 + Math.sqrt((o.requestsADay ?? 0) / dearest) * (width - 70)
  const y = (o: Option) => height - 26 - (o.oversold / most) * (height - 50)
  return (
    <div ref={ref}>
      {width > 0 && (
        <svg
          className="ribbon"
          style={{ height }}
          viewBox={`0 0 ${width} ${height}`}
          role="img"
          aria-label={known
            .map((o) => `${nameOf(o)}: ${o.oversold} oversold, ${Math.round(o.requestsADay ?? 0)} requests a day`)
            .join('; ')}
        >
          <line x1={24} x2={width} y1={height - 20} y2={height - 20} stroke="var(--rule)" />
          <line x1={24} x2={24} y1={6} y2={height - 20} stroke="var(--rule)" />
          <text x={28} y={12}>{`${count(most)} oversold`}</text>
          <text x={width} y={height - 6} textAnchor="end">{`${count(Math.round(dearest))} requests a day`}</text>
          {known.map((o) => (
            <g key={`${o.way}${o.minutes}`}>
              <circle
                cx={x(o)}
                cy={y(o)}
                r={o.way === 'this' ? 6 : 4}
                fill={o.way === 'this' ? 'var(--clay)' : 'var(--sheet)'}
                stroke={o.way === 'this' ? 'var(--clay)' : 'var(--ink-2)'}
                strokeWidth={1.6}
              />
              <text x={Math.min(width - 60, x(o) + 8)} y={y(o) - (o.way === 'this' ? 9 : 3)}>
                {o.way === 'this' ? 'this' : o.minutes === 0 ? 'at once' : `${o.minutes} min`}
              </text>
            </g>
          ))}
        </svg>
      )}
    </div>
  )
}

function Worst({ advice }: { advice: Advice }) {
  const most = Math.max(1, ...advice.hours)
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)', gap: 18 }}>
      <div className="stack" style={{ gap: 4 }}>
        <span className="strong small">Items that hurt most</span>
        {advice.items.length === 0 && <span className="dim small">None: nothing would have gone wrong.</span>}
        {advice.items.map((i) => (
          <div key={i.item} className="row small" style={{ gap: 6 }}>
            <span className="clip grow">{i.caption ?? i.item}</span>
            <span className="mono">{i.reference ?? ''}</span>
            <span className="dim">{i.short > 0 ? `${count(i.short)} pcs short` : `${count(i.missed)} missed`}</span>
          </div>
        ))}
      </div>
      <div className="stack" style={{ gap: 4 }}>
        <span className="strong small">Hours that hurt most</span>
        <svg
          className="ribbon"
          style={{ height: 46 }}
          viewBox="0 0 240 46"
          role="img"
          aria-label={advice.hours.map((n, h) => `${h}: ${n}`).join(', ')}
        >
          {advice.hours.map((n, hour) => (
            <g key={`h${hour.toString()}`}>
              <rect x={hour * 10 + 1} width={8} y={34 - (n / most) * 32} height={(n / most) * 32} fill="var(--ochre)" />
              {hour % 6 === 0 && (
                <text x={hour * 10} y={45}>
                  {hour}
                </text>
              )}
            </g>
          ))}
        </svg>
        <span className="strong small">If less were shown</span>
        {advice.parts.map((p) => (
          <div key={`${p.holdBack}-${p.share}`} className="row small" style={{ gap: 6 }}>
            <span className="grow">{p.share < 100 ? `${p.share} % of it` : `${plural(p.holdBack, 'piece')} held back`}</span>
            <span className="dim">{`${count(p.oversold)} oversold, ${count(p.missed)} missed`}</span>
          </div>
        ))}
      </div>
    </div>
  )
}
