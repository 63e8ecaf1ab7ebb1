import { Button, Checkbox, TextInput, VisuallyHidden } from '@mantine/core'
import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { useState } from 'react'
import { api, type Schemas, take } from '../../shared/api'
import { count, plural } from '../../shared/format'
import { queries } from '../../shared/queries'
import { sayRefusal } from '../../shared/refusal'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'
import type { Couple } from './actions'

type Group = Schemas['ReadinessGroup']

/** What to put in order before the first records are sent: each cause with its records, and a way to put them right. */
export function Readiness({ couple }: { couple: Couple }) {
  const [state, set] = useView('/pair-desk/$couple')
  const [pattern, setPattern] = useState('{group}-{option}')
  const view = useQuery({
    ...queries.readiness(couple.id, pattern),
    placeholderData: keepPreviousData,
  })
  const table = (form: string) => `/api/couples/${couple.id}/readiness/table?form=${form}`
  return (
    <Loaded of={view}>
      {(ready) => {
        const chosen = ready.groups.find((g) => `${g.system.id}.${g.cause}` === state.cause) ?? ready.groups[0]
        const findings = ready.groups.reduce((sum, g) => sum + g.count, 0)
        return (
          <div className="split" style={{ gridTemplateColumns: '340px minmax(0, 1fr)' }}>
            <section className="sheet side" aria-labelledby="readiness">
              <h2 id="readiness" style={{ margin: 0, padding: '11px 14px 2px', fontSize: 15 }}>
                Before the first sync
              </h2>
              <div className="dim" style={{ padding: '0 14px 10px' }}>
                {plural(findings, 'finding')} in {count(ready.hubRecords)} {couple.hubLabel} and {count(ready.otherRecords)}{' '}
                {couple.otherLabel}
              </div>
              {ready.groups.length === 0 && <Empty title="All in order">Nothing stands in the way of a first sync.</Empty>}
              {ready.groups.map((g) => (
                <button
                  key={`${g.system.id}.${g.cause}`}
                  type="button"
                  className="line plain-button chooses"
                  style={{ gridTemplateColumns: 'auto minmax(0, 1fr) auto', width: '100%' }}
                  aria-pressed={g === chosen}
                  onClick={() => set({ cause: `${g.system.id}.${g.cause}` })}
                >
                  <SystemMark system={g.system} />
                  <span>
                    {g.words}
                    {g.proposed > 0 && <span className="dim small"> · {count(g.proposed)} with a proposal</span>}
                  </span>
                  <span className="num strong">{count(g.count)}</span>
                </button>
              ))}
              <div className="line" style={{ gridTemplateColumns: '1fr auto auto' }}>
                <span className="dim">Take the list away</span>
                <a className="act" href={table('csv')} download>
                  CSV
                </a>
                <a className="act" href={table('xlsx')} download>
                  XLSX
                </a>
              </div>
            </section>
            {chosen && (
              <Lines key={`${chosen.system.id}.${chosen.cause}`} couple={couple} group={chosen} pattern={pattern} setPattern={setPattern} />
            )}
          </div>
        )
      }}
    </Loaded>
  )
}

function Lines(props: { couple: Couple; group: Group; pattern: string; setPattern: (p: string) => void }) {
  const { couple, group, pattern } = props
  const navigate = useNavigate()
  const lines = useQuery({
    ...queries.readinessLines(couple.id, { system: group.system.id, cause: group.cause, pattern }),
    placeholderData: keepPreviousData,
  })
  const [edits, setEdits] = useState<Record<string, string>>({})
  const [except, setExcept] = useState<ReadonlySet<string>>(new Set())
  const send = useMutation({
    mutationFn: (corrections: Schemas['Correction'][]) =>
      take(
        api.POST('/api/couples/{id}/readiness/corrections', {
          params: { path: { id: couple.id } },
          body: { systemId: group.system.id, corrections },
        }),
      ),
    onSuccess: ({ runId }) => void navigate({ to: '/runs/$run', params: { run: String(runId) }, search: {} }),
    onError: sayRefusal,
  })
  const rightValue = (l: Schemas['ReadinessLine']) => edits[l.key] ?? l.proposal ?? ''
  const corrections = (lines.data?.rows ?? [])
    .filter((l) => rightValue(l) !== '' && !except.has(l.key))
    .map((l) => ({ key: l.key, field: group.field, value: rightValue(l) }))
  const flip = (key: string) =>
    setExcept((old) => {
      const next = new Set(old)
      if (!next.delete(key)) next.add(key)
      return next
    })
  const aboutSku = group.cause === 'skuMissing' || group.cause === 'skuTwice'
  return (
    <section className="sheet side" aria-labelledby="findings">
      <div className="sheet-head" style={{ alignItems: 'center' }}>
        <SystemMark system={group.system} />
        <h2 id="findings" style={{ all: 'unset', flex: 1 }}>
          {group.words}
        </h2>
        {aboutSku && (
          <TextInput
            size="xs"
            w={210}
            aria-label="Pattern for new SKUs"
            leftSection={<span className="dim small">by</span>}
            value={pattern}
            onChange={(e) => props.setPattern(e.currentTarget.value)}
          />
        )}
        {group.writable ? (
          <Button
            size="xs"
            variant="filled"
            disabled={corrections.length === 0}
            loading={send.isPending}
            onClick={() => send.mutate(corrections)}
          >
            Preview {plural(corrections.length, 'correction')}
          </Button>
        ) : (
          <span className="dim small">{group.system.name} does not let Narbit write this; put it right there</span>
        )}
      </div>
      <Loaded of={lines}>
        {(data) => (
          <table className="plain-table">
            <thead>
              <tr>
                {group.writable && (
                  <th style={{ width: 28 }}>
                    <VisuallyHidden>Correct</VisuallyHidden>
                  </th>
                )}
                <th>Record</th>
                <th>What is the matter</th>
                <th style={{ width: 230 }}>Put right as</th>
              </tr>
            </thead>
            <tbody>
              {data.rows.map((l) => (
                <Finding
                  key={l.key}
                  line={l}
                  writable={group.writable}
                  value={rightValue(l)}
                  typed={edits[l.key] !== undefined}
                  taken={rightValue(l) !== '' && !except.has(l.key)}
                  flip={() => flip(l.key)}
                  type={(value) => setEdits({ ...edits, [l.key]: value })}
                />
              ))}
            </tbody>
          </table>
        )}
      </Loaded>
    </section>
  )
}

/** One record that is not ready, with what it would be put right as. */
function Finding(props: {
  line: Schemas['ReadinessLine']
  writable: boolean
  value: string
  typed: boolean
  taken: boolean
  flip: () => void
  type: (value: string) => void
}) {
  const { line: l, value } = props
  return (
    <tr>
      {props.writable && (
        <td>
          <Checkbox aria-label={`Correct ${l.caption ?? l.key}`} checked={props.taken} disabled={value === ''} onChange={props.flip} />
        </td>
      )}
      <td style={{ maxWidth: 260 }}>
        <div className="clip" title={l.caption ?? undefined}>
          {l.caption}
        </div>
        <div className="mono dim">{l.reference || l.key}</div>
      </td>
      <td>{l.words}</td>
      <td>
        {props.writable ? (
          <TextInput
            size="xs"
            aria-label={`Right value for ${l.caption ?? l.key}`}
            value={value}
            placeholder={l.now ?? 'by hand'}
            description={props.typed ? undefined : l.because}
            inputWrapperOrder={['label', 'input', 'description', 'error']}
            onChange={(e) => props.type(e.currentTarget.value)}
          />
        ) : (
          <span className="mono">{l.proposal ?? '–'}</span>
        )}
      </td>
    </tr>
  )
}
