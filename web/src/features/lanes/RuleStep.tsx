import { Button, TextInput } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type LaneSummary, Refusal, type Schemas, take } from '../../shared/api'
import { count, move, plural, value, when } from '../../shared/format'
import { Empty, Failed, Loaded } from '../../shared/states'
import { Trace } from '../../shared/Trace'
import { useStartRun } from '../runs/actions'
import { useLane } from './lane'
import { PriceForm } from './PriceForm'
import { StockForm } from './StockForm'

type RuleView = Schemas['RuleView']
export type PriceRule = Schemas['PriceRule']
export type StockRule = Schemas['StockRule']
export type Faults = Schemas['RuleFault'][]
export type Choices = Schemas['RuleChoices']

export function RuleStep() {
  const lane = useLane()
  return <Loaded of={lane}>{(data) => <Rule key={data.id} lane={data} />}</Loaded>
}

function Rule({ lane }: { lane: LaneSummary }) {
  const path = { params: { path: { id: lane.id } } }
  const versions = useQuery({
    queryKey: ['rule', lane.id],
    queryFn: () => take(api.GET('/api/lanes/{id}/rule/versions', path)),
  })
  const choices = useQuery({
    queryKey: ['rule-choices', lane.id],
    queryFn: () => take(api.GET('/api/lanes/{id}/rule/choices', path)),
  })
  return <Loaded of={versions}>{(all) => <Loaded of={choices}>{(c) => <Editor lane={lane} versions={all} choices={c} />}</Loaded>}</Loaded>
}

function Editor({ lane, versions, choices }: { lane: LaneSummary; versions: RuleView[]; choices: Choices }) {
  const queries = useQueryClient()
  const start = useStartRun()
  // The version this form was opened with; a save on top of another is refused by the server.
  const [base, setBase] = useState<RuleView>(versions[0] as RuleView)
  const [price, setPrice] = useState<PriceRule | null>(base.price ?? null)
  const [stock, setStock] = useState<StockRule | null>(base.stock ?? null)
  const [note, setNote] = useState('')
  const draft = { price, stock }
  const [tried] = useDebouncedValue(draft, 250)

  const trial = useQuery({
    queryKey: ['trial', lane.id, tried, lane.comparedAt],
    queryFn: () => take(api.POST('/api/lanes/{id}/rule/try', { params: { path: { id: lane.id } }, body: tried })),
    placeholderData: keepPreviousData,
    retry: false,
  })
  const save = useMutation({
    mutationFn: () =>
      take(
        api.PUT('/api/lanes/{id}/rule', {
          params: { path: { id: lane.id } },
          body: { baseNumber: base.number, note: note || null, ...draft },
        }),
      ),
    onSuccess: (saved) => {
      setBase(saved)
      setNote('')
      notifications.show({ color: 'var(--glaze)', message: `Saved as version ${saved.number}.` })
      void queries.invalidateQueries({ queryKey: ['rule'] })
      void queries.invalidateQueries({ queryKey: ['lanes'] })
    },
  })
  const take_ = (version: RuleView) => {
    setPrice(version.price ?? null)
    setStock(version.stock ?? null)
  }
  const reload = async () => {
    await queries.invalidateQueries({ queryKey: ['rule'] })
    const newest = queries.getQueryData<RuleView[]>(['rule', lane.id])?.[0]
    if (newest) {
      setBase(newest)
      take_(newest)
    }
    save.reset()
  }

  const faults = trial.data?.faults ?? []
  const refused = faults.some((f) => f.severity === 'refuse')
  const changed = JSON.stringify(draft) !== JSON.stringify({ price: base.price ?? null, stock: base.stock ?? null })
  return (
    <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 470px' }}>
      <div className="side stack">
        <section className="sheet pad stack" aria-label="Rule">
          {price && <PriceForm rule={price} set={setPrice} choices={choices} faults={faults} />}
          {stock && <StockForm rule={stock} set={setStock} choices={choices} faults={faults} />}
        </section>
        <section className="sheet" aria-label="Versions">
          <div className="sheet-head">Versions</div>
          {versions.map((v) => (
            <div key={v.number} className="line small" style={{ gridTemplateColumns: '30px 110px minmax(0, 1fr) auto' }}>
              <span className="mono">{v.number}</span>
              <span className="dim">{when(v.at)}</span>
              <span>
                {v.author}
                {v.note ? `: ${v.note}` : ''}
              </span>
              {v.number === base.number ? (
                <span className="tag plain">in force</span>
              ) : (
                <button type="button" className="act" onClick={() => take_(v)}>
                  Put into the form
                </button>
              )}
            </div>
          ))}
        </section>
      </div>
      <div className="side stack">
        <section className="sheet pad stack" aria-label="Save">
          {save.isError &&
            (save.error instanceof Refusal && save.error.code === 'rule.changed' ? (
              <div className="note harm" role="alert">
                <span className="grow">{save.error.message}</span>
                <Button onClick={() => void reload()}>Reload</Button>
              </div>
            ) : (
              <Failed error={save.error} />
            ))}
          <div className="row">
            <TextInput
              className="grow"
              aria-label="What for"
              placeholder="What for? (a note for later)"
              value={note}
              onChange={(e) => setNote(e.currentTarget.value)}
            />
            <Button variant="filled" disabled={!changed || refused} loading={save.isPending} onClick={() => save.mutate()}>
              Save version {base.number + 1}
            </Button>
            {!changed && base.number > 1 && <Button onClick={() => start.mutate({ lane: lane.id, preview: true })}>Preview</Button>}
          </div>
          {faults.map((f) => (
            <div
              key={f.path + f.message}
              className="small"
              role="alert"
              style={{ color: f.severity === 'refuse' ? 'var(--harm)' : 'var(--ochre)' }}
            >
              {f.severity === 'refuse' ? '✕' : '!'} {f.message}
            </div>
          ))}
        </section>
        <Effect lane={lane} trial={trial.data} error={trial.error} changed={changed} unit={lane.kind === 'price' ? '€' : 'pcs'} />
      </div>
    </div>
  )
}

function Effect(props: { lane: LaneSummary; trial: Schemas['TrialResult'] | undefined; error: unknown; changed: boolean; unit: string }) {
  const { lane, trial } = props
  const [open, setOpen] = useState<string | null>(null)
  if (props.error && !trial) return <Failed error={props.error} />
  if (!trial) return <div className="sheet">{<Empty title="Computing">on the records as last read</Empty>}</div>
  const kind = lane.kind
  const row = (r: Schemas['TrialRecord'], group: string) => {
    const key = `${group}${r.targetKey}`
    return [
      <tr key={key}>
        <td>
          <div>{r.title}</div>
          <span className="mono dim">{r.sku}</span> {r.hold && <span className="tag ochre">would be held</span>}
        </td>
        <td className="num struck">{value(r.now, kind)}</td>
        <td className="num strong">
          <button
            type="button"
            className="act"
            style={{ color: 'var(--ink)' }}
            aria-expanded={open === key}
            title="Why?"
            onClick={() => setOpen(open === key ? null : key)}
          >
            {value(r.trial, kind)}
          </button>
        </td>
        <td className={(r.move ?? 0) < 0 ? 'num minus' : 'num'}>{move(r.move, kind)}</td>
      </tr>,
      open === key && (
        <tr key={`${key}-trace`}>
          <td colSpan={4} style={{ padding: 0, background: 'var(--ground)' }}>
            {r.hold && (
              <div className="line" style={{ color: 'var(--ochre)' }}>
                {r.hold}
              </div>
            )}
            <Trace steps={r.trace} />
          </td>
        </tr>
      ),
    ]
  }
  return (
    <section className="sheet" aria-label="What it would do">
      <div className="sheet-head" style={{ flexWrap: 'wrap' }}>
        <span className="grow">
          {count(trial.changes)} of {plural(trial.records, 'record')} would change
        </span>
        <span className="dim small" style={{ fontWeight: 400 }}>
          {count(trial.up)} up · {count(trial.down)} down
          {trial.held > 0 && ` · ${count(trial.held)} held`}
          {trial.uncomputed > 0 && ` · ${count(trial.uncomputed)} not computed`}
        </span>
      </div>
      {props.changed && <div className="line small dim">By the version in force it would be {count(trial.changesInForce)}.</div>}
      <table className="plain-table">
        <thead>
          <tr>
            <th>On real items, from the smallest to the largest</th>
            <th className="num">now, {props.unit}</th>
            <th className="num">would be</th>
            <th className="num">move</th>
          </tr>
        </thead>
        <tbody>{trial.samples.map((r) => row(r, 's'))}</tbody>
        {trial.largest.length > 0 && (
          <>
            <thead>
              <tr>
                <th colSpan={4}>The largest moves</th>
              </tr>
            </thead>
            <tbody>{trial.largest.map((r) => row(r, 'l'))}</tbody>
          </>
        )}
      </table>
    </section>
  )
}
