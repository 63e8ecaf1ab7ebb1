import { Select, TextInput } from '@mantine/core'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Link, useParams } from '@tanstack/react-router'
import type { Schemas } from '../../shared/api'
import { at as moment, plural, sentence, value, when } from '../../shared/format'
import type { ViewOf } from '../../shared/listState'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'

type Entry = Schemas['HistoryEntry']
type Field = Schemas['HistoryField']

/** What a record's values were, when, and who or what set them. */
export function HistoryPage() {
  const { system, key } = useParams({ from: '/systems/$system/records/$key' })
  const [state] = useView('/systems/$system/records/$key')
  const history = useQuery({
    ...queries.valueHistory(system, key, { field: state.field, clock: state.on }),
    placeholderData: keepPreviousData,
  })
  return <Loaded of={history}>{(h) => <View history={h} state={state} />}</Loaded>
}

function View({ history: h, state }: { history: Schemas['RecordHistory']; state: ViewOf<'/systems/$system/records/$key'> }) {
  const [, set] = useView('/systems/$system/records/$key')
  const now = h.fields.filter((f) => !state.field || f.field === state.field)
  const asked = h.at ?? undefined
  return (
    <div className="page page-fixed">
      <div className="page-head">
        <SystemMark system={h.system} />
        <h1 className="clip">{h.caption ?? h.key}</h1>
        <span className="mono">{h.reference || 'no SKU'}</span>
        <span className="dim">
          {h.system.name}, key <span className="mono">{h.key}</span>
        </span>
      </div>
      <div className="row wrap">
        <Select
          aria-label="Field"
          placeholder="all fields"
          clearable
          searchable
          w={220}
          data={h.fields.map((f) => ({ value: f.field, label: f.label }))}
          value={state.field ?? null}
          onChange={(field) => set({ field: field ?? undefined })}
        />
        <label htmlFor="on" className="dim">
          as it was on
        </label>
        <TextInput
          id="on"
          type="datetime-local"
          w={210}
          value={state.on ?? ''}
          onChange={(e) => set({ on: e.currentTarget.value || undefined })}
        />
        {state.on && (
          <button type="button" className="act" onClick={() => set({ on: undefined })}>
            Show everything
          </button>
        )}
      </div>
      <div className="split" style={{ gridTemplateColumns: asked ? 'minmax(0, 1fr) 520px' : 'minmax(0, 1fr) 380px' }}>
        <section className="sheet side" aria-label="History">
          <div className="sheet-head">{plural(h.entries.length, 'change')}, newest first</div>
          {h.entries.map((e) => (
            <Change key={e.id} entry={e} field={h.fields.find((f) => f.field === e.field)} later={asked !== undefined && e.at > asked} />
          ))}
          <div className="line" style={{ gridTemplateColumns: '108px minmax(0, 1fr)', alignItems: 'baseline' }}>
            <span className="dim small">{when(h.firstReadAt)}</span>
            <span>
              {h.entries.length === 0 && <span className="strong">Nothing has changed since then. </span>}
              <By set={h.first} />
              <br />
              <span className="dim small">Narbit knows nothing of it from before then.</span>
            </span>
          </div>
        </section>
        <section className="sheet side" aria-label="Values">
          <div className="sheet-head">
            <span className="grow">{asked ? sentence(moment(asked)) : 'Now'}</span>
          </div>
          {now.map((f) => (
            <Known key={f.field} field={f} choose={() => set({ field: state.field === f.field ? undefined : f.field })} />
          ))}
        </section>
      </div>
    </div>
  )
}

/** What a field has now and, where an instant was asked for, what it was then, since when, and by whom. */
function Known({ field: f, choose }: { field: Field; choose: () => void }) {
  const then = f.then
  return (
    <div className="line small" style={{ gridTemplateColumns: '130px minmax(0, 1fr)', alignItems: 'baseline' }} data-field={f.field}>
      <button type="button" className="plain-button dim" onClick={choose}>
        {f.label}
      </button>
      {then ? (
        <span className="stack" style={{ gap: 2, overflowWrap: 'anywhere' }}>
          <Amount field={f} text={then.value} strong />
          {then.earlier && <span className="warns">the first that is known: read {when(then.since)}</span>}
          {!then.earlier && (
            <span>
              since {when(then.since)}, <By set={then.set} />
            </span>
          )}
          {then.until && (
            <span className="dim">
              until {when(then.until)}; now <Amount field={f} text={f.now} />
            </span>
          )}
        </span>
      ) : (
        <Amount field={f} text={f.now} />
      )}
    </div>
  )
}

function Amount({ field: f, text, strong }: { field: Field; text: string | null; strong?: boolean }) {
  if (text === null) return <span className={strong ? 'strong' : 'dim'}>nothing</span>
  return (
    <span style={{ overflowWrap: 'anywhere' }}>
      <span className={strong ? 'strong' : undefined}>{value(text, f.type)}</span> {f.unit && <span className="dim">{f.unit}</span>}
    </span>
  )
}

function By({ set: s }: { set: Schemas['Setter'] }) {
  return (
    <span className="small">
      {s.runId !== null ? (
        <Link to="/runs/$run" params={{ run: String(s.runId) }} search={{ row: String(s.writeId) }}>
          {s.by}
        </Link>
      ) : (
        <span className="dim">{s.by}</span>
      )}
      {s.laneId !== null && (
        <>
          {' · '}
          <Link to="/lanes/$lane/versions" params={{ lane: s.laneId }} search={{ row: String(s.ruleNumber) }}>
            its version
          </Link>
        </>
      )}
    </span>
  )
}

function Change({ entry: e, field, later }: { entry: Entry; field: Field | undefined; later: boolean }) {
  const unit = field?.unit
  return (
    <div
      className="line"
      style={{ gridTemplateColumns: '108px 130px minmax(0, 1fr)', alignItems: 'baseline', opacity: later ? 0.6 : undefined }}
    >
      <span className="dim small">{when(e.at)}</span>
      <span className="strong clip" title={e.label}>
        {e.label}
      </span>
      <span style={{ minWidth: 0, overflowWrap: 'anywhere' }}>
        <span className="struck">{e.old === null ? 'nothing' : value(e.old, field?.type)}</span> →{' '}
        <span className="strong">
          {e.new === null ? 'nothing' : value(e.new, field?.type)}
          {e.new !== null && unit ? (
            <span className="dim" style={{ fontWeight: 400 }}>
              {' '}
              {unit}
            </span>
          ) : null}
        </span>
        <br />
        <By set={e.set} />
      </span>
    </div>
  )
}
