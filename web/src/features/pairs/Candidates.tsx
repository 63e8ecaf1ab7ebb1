import { Kbd, TextInput } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import type { Schemas } from '../../shared/api'
import { count } from '../../shared/format'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import type { Couple, DeskRow } from './actions'

const states: Record<string, string> = { free: '', paired: 'paired', kit: 'in a kit', setAside: 'set aside' }

/** Searches the whole of one side. */
export function useRecordSearch(couple: Couple, side: 'hub' | 'other', text: string) {
  return useQuery({
    enabled: text.trim() !== '',
    ...queries.deskSearch(couple.id, side, text),
  })
}

/** The records across the seam that may be the partner, and a search over all of them. */
export function Candidates(props: {
  couple: Couple
  row: DeskRow | undefined
  candidates: Schemas['CandidateView'][]
  chosen: string | undefined
  choose: (key: string) => void
}) {
  const { couple, row, candidates, chosen, choose } = props
  const side = row?.hubKey ? 'other' : 'hub'
  const [text, setText] = useState('')
  const [asked] = useDebouncedValue(text, 150)
  const found = useRecordSearch(couple, side, asked)
  // Another record, another question.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the row is what it depends on
  useEffect(() => setText(''), [row?.id])
  const picked = chosen !== undefined && !candidates.some((c) => c.key === chosen)
  return (
    <section className="sheet" aria-label="Candidates">
      <div className="sheet-head" style={{ alignItems: 'center', paddingBottom: 6 }}>
        <h2 style={{ all: 'unset', flex: 1 }}>Candidates</h2>
        <SystemMark system={side === 'hub' ? couple.hub : couple.other} />
      </div>
      <div style={{ padding: '0 12px 8px' }}>
        <TextInput
          size="xs"
          data-search
          aria-label={`Search all of ${side === 'hub' ? couple.hub.name : couple.other.name}`}
          placeholder="Search all"
          rightSection={<Kbd size="xs">/</Kbd>}
          value={text}
          onChange={(e) => setText(e.currentTarget.value)}
          onKeyDown={(e) => {
            if (e.key === 'Escape') {
              setText('')
              e.currentTarget.blur()
            }
            const first = found.data?.rows[0]
            if (e.key === 'Enter' && first && asked === text) {
              choose(first.key)
              e.currentTarget.blur()
            }
          }}
        />
      </div>
      <div className="scrolls">
        {asked.trim() !== '' ? (
          <Loaded of={found}>
            {(data) => (
              <>
                {data.rows.map((r) => (
                  <button
                    key={r.key}
                    type="button"
                    className="candidate plain-button"
                    aria-pressed={chosen === r.key}
                    onClick={() => choose(r.key)}
                  >
                    <span />
                    <span>
                      {r.caption} <span className="dim">{r.option}</span>
                    </span>
                    <span className="tag plain">{states[r.state]}</span>
                    <span />
                    <span className="mono dim">{r.reference || r.key}</span>
                  </button>
                ))}
                <div className="line dim small">
                  {data.total > data.rows.length
                    ? `${count(data.total)} found; the first ${data.rows.length}`
                    : `${count(data.total)} found`}{' '}
                  · Enter takes the first
                </div>
              </>
            )}
          </Loaded>
        ) : row === undefined || row.standing !== 'open' ? (
          <Empty title="Nothing to choose">{row ? 'This record is decided.' : ''}</Empty>
        ) : (
          <>
            {picked && (
              <div className="line small" style={{ display: 'block' }}>
                <span className="tag ochre">chosen by search</span> <span className="mono">{chosen}</span>
              </div>
            )}
            {candidates.length === 0 && !picked && (
              <Empty title="No candidate">Search the whole side, set the record aside, or make it a kit.</Empty>
            )}
            {candidates.map((c, i) => (
              <button
                key={c.key}
                type="button"
                className="candidate plain-button"
                aria-pressed={chosen === c.key}
                onClick={() => choose(c.key)}
              >
                <Kbd size="xs">{i + 1}</Kbd>
                <span>
                  {c.caption}
                  {c.option && !c.caption?.includes(c.option) && <span className="dim"> {c.option}</span>}
                </span>
                <span className="num strong" title="confidence in percent">
                  {Math.round(c.confidence * 100)} %
                </span>
                <span />
                <span className="dim small" style={{ gridColumn: '2 / -1' }}>
                  <span className="mono">{c.reference || c.key}</span>
                  {c.taken && ' · has a listing already, can be shared'} ·{' '}
                  {c.evidence
                    .map((e) => e.words)
                    .slice(0, 2)
                    .join(' · ')}
                </span>
              </button>
            ))}
          </>
        )}
      </div>
    </section>
  )
}
