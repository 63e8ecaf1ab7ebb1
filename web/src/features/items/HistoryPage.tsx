import { Select, TextInput } from '@mantine/core'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Link, useNavigate, useParams, useSearch } from '@tanstack/react-router'
import { api, type Schemas, take } from '../../shared/api'
import { day, plural, value, when } from '../../shared/format'
import type { ListState } from '../../shared/listState'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'

type Entry = Schemas['HistoryEntry']
type Field = Schemas['HistoryField']

/** What a record's values were, when, and who or what set them. */
export function HistoryPage() {
  const { system, key } = useParams({ from: '/systems/$system/records/$key' })
  const state = useSearch({ from: '/systems/$system/records/$key' })
  const history = useQuery({
    queryKey: ['records', 'history', system, key, state.field, state.on],
    queryFn: () =>
      take(
        api.GET('/api/systems/{id}/items/{key}/history', {
          params: { path: { id: system, key }, query: { field: state.field, day: state.on } },
        }),
      ),
    placeholderData: keepPreviousData,
  })
  return <Loaded of={history}>{(h) => <View history={h} state={state} />}</Loaded>
}

function View({ history: h, state }: { history: Schemas['RecordHistory']; state: ListState }) {
  const navigate = useNavigate({ from: '/systems/$system/records/$key' })
  const set = (change: ListState) => void navigate({ search: (s: ListState) => ({ ...s, ...change }), replace: true })
  const now = h.fields.filter((f) => !state.field || f.field === state.field)
  const at = (field: string) => h.entries.find((e) => e.field === field)
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
        <TextInput id="on" type="date" w={170} value={state.on ?? ''} onChange={(e) => set({ on: e.currentTarget.value || undefined })} />
        {state.on && (
          <button type="button" className="act" onClick={() => set({ on: undefined })}>
            Show everything
          </button>
        )}
      </div>
      <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 380px' }}>
        <section className="sheet side" aria-label="History">
          <div className="sheet-head">
            {state.on ? `Set by the end of ${day(`${state.on}T12:00:00Z`)}` : `${plural(h.entries.length, 'change')}, newest first`}
          </div>
          {h.entries.length === 0 && (
            <Empty title={state.on ? 'No change is known up to that day' : 'No change is known'}>
              Narbit notes every value that it writes, and every value that it sees changed when it reads.
            </Empty>
          )}
          {h.entries.map((e) => (
            <Change key={`${e.at}${e.field}${e.runId ?? ''}`} entry={e} field={h.fields.find((f) => f.field === e.field)} />
          ))}
        </section>
        <section className="sheet side" aria-label="Values">
          <div className="sheet-head">
            <span className="grow">{state.on ? `On ${day(`${state.on}T12:00:00Z`)}` : 'Now'}</span>
            {state.on && (
              <span className="dim small" style={{ fontWeight: 400 }}>
                and now
              </span>
            )}
          </div>
          {now.map((f) => {
            const then = state.on ? at(f.field) : undefined
            return (
              <div key={f.field} className="line small" style={{ gridTemplateColumns: '120px minmax(0, 1fr)' }}>
                <button
                  type="button"
                  className="plain-button dim"
                  onClick={() => set({ field: state.field === f.field ? undefined : f.field })}
                >
                  {f.label}
                </button>
                <span className="stack" style={{ gap: 2, overflowWrap: 'anywhere' }}>
                  {state.on && (
                    <span className="strong">
                      {then ? (then.new === null ? 'nothing' : value(then.new, f.type)) : 'not known to have changed'}
                    </span>
                  )}
                  <span className={state.on ? 'dim' : undefined}>
                    {value(f.now, f.type)} {f.now && f.unit && <span className="dim">{f.unit}</span>}
                  </span>
                </span>
              </div>
            )
          })}
        </section>
      </div>
    </div>
  )
}

function Change({ entry: e, field }: { entry: Entry; field: Field | undefined }) {
  const unit = field?.unit
  return (
    <div className="line" style={{ gridTemplateColumns: '108px 130px minmax(0, 1fr)', alignItems: 'baseline' }}>
      <span className="dim small">{when(e.at)}</span>
      <span className="strong clip">{e.label}</span>
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
        <span className="small">
          {e.runId !== null ? (
            <Link to="/runs/$run" params={{ run: String(e.runId) }} search={{ row: String(e.writeId) }}>
              {e.by}
            </Link>
          ) : (
            <span className="dim">{e.by}</span>
          )}
          {e.laneId !== null && (
            <>
              {' · '}
              <Link to="/lanes/$lane/versions" params={{ lane: e.laneId }} search={{ row: String(e.ruleNumber) }}>
                its version
              </Link>
            </>
          )}
        </span>
      </span>
    </div>
  )
}
