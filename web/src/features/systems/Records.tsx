import { CopyButton } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import type { Schemas } from '../../shared/api'
import { Chips } from '../../shared/Chips'
import { count, value, when } from '../../shared/format'
import { LongTable } from '../../shared/LongTable'
import { isNoStep } from '../../shared/listState'
import { queries } from '../../shared/queries'
import { Scrolls } from '../../shared/Scrolls'
import { Search } from '../../shared/Search'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'
import { NotKept } from './NotKept'
import type { System } from './SystemsPage'

type Kind = Schemas['RecordKind']
type RecordRow = Schemas['RecordRow']
type KindFields = Schemas['KindFields']

/** What was read of a system, record by record, as it was sent and as it was understood. */
export function Records({ system }: { system: System }) {
  const [state, set] = useView('/systems/$system')
  const fields = useQuery(queries.fields(system.id))
  const kind = (state.kind ?? (system.reads.find((r) => r.kind === 'item') ?? system.reads[0])?.kind ?? 'item') as Kind
  const troubled = state.show === 'troubled'
  const unkept = state.show === 'unkept'
  const summary = system.reads.find((r) => r.kind === kind)
  const described = fields.data?.find((f) => f.kind === kind)
  return (
    <>
      <div className="row wrap">
        <Chips
          label="Kind of record"
          slim
          chosen={kind}
          choose={(k) => set({ kind: k, show: undefined, search: undefined, row: undefined })}
          chips={system.reads.map((r) => ({ key: r.kind, text: r.label, count: r.records, always: true }))}
        />
        {(summary?.troubled ?? 0) > 0 && (
          <button
            type="button"
            className="chip slim"
            aria-pressed={troubled}
            onClick={() => set({ show: troubled ? undefined : 'troubled', row: undefined })}
          >
            Not as described {count(summary?.troubled ?? 0)}
          </button>
        )}
        {(summary?.unkept ?? 0) > 0 && (
          <button
            type="button"
            className="chip slim"
            aria-pressed={unkept}
            onClick={() => set({ show: unkept ? undefined : 'unkept', row: undefined })}
          >
            Not kept {count(summary?.unkept ?? 0)}
          </button>
        )}
        <span className="grow" />
        <Search
          label="SKU, name or key"
          text={state.search ?? ''}
          search={(search) => set({ search, row: undefined }, isNoStep(state, { search }))}
        />
      </div>
      {unkept && summary && summary.unkept > 0 && <NotKept first={summary.unkeptFirst} all={summary.unkept} label={summary.label} />}
      <div className="split" style={state.row === undefined ? { gridTemplateColumns: 'minmax(0, 1fr)' } : undefined}>
        <div className="sheet" style={{ minHeight: 0, overflow: 'hidden' }}>
          <LongTable<RecordRow>
            label="Records"
            pages={queries.records(system.id, kind, { search: state.search, troubled: troubled || undefined })}
            rowKey={(r) => r.key}
            chosen={state.row}
            open={(r) => set({ row: r.key })}
            columns={columnsOf(kind, described)}
            empty={
              <Empty title={state.search ? 'No record matches' : 'Nothing has been read yet'}>
                {state.search ? 'Try fewer letters.' : 'Press “Read everything”.'}
              </Empty>
            }
          />
        </div>
        <RecordSheet system={system} kind={kind} recordKey={state.row} described={described} />
      </div>
    </>
  )
}

const shown = (field: Schemas['FieldDescription'], text: string | undefined) => (text === undefined ? undefined : value(text, field.type))

function columnsOf(kind: Kind, described: KindFields | undefined) {
  const of = (role: string) => described?.fields.find((f) => f.role === role)
  const leading: (Schemas['FieldDescription'] | undefined)[] = {
    item: [of('price'), of('onHand')],
    stockLevel: [of('location'), of('onHand'), of('allocated')],
    customer: [of('email')],
    order: [of('placedAt'), of('total')],
    creditNote: [of('total')],
    payment: [of('method'), of('amount')],
  }[kind]
  const named = {
    item: ['SKU', 'Name'],
    customer: ['Account', 'Name'],
    order: ['Number', 'Buyer'],
    creditNote: ['Number', 'For'],
    payment: ['Number', 'For'],
    stockLevel: null,
  }[kind]
  return [
    { key: 'key', head: 'Key', width: '110px', cell: (r: RecordRow) => <span className="mono">{r.key}</span> },
    ...(named
      ? [
          { key: 'sku', head: named[0] as string, width: '150px', cell: (r: RecordRow) => <span className="mono">{r.reference}</span> },
          { key: 'title', head: named[1] as string, width: 'minmax(0, 1fr)', cell: (r: RecordRow) => r.caption },
        ]
      : []),
    ...leading
      .filter((f): f is Schemas['FieldDescription'] => f !== undefined)
      .map((f) => ({
        key: f.name,
        head: f.unit ? `${f.label}, ${f.unit}` : f.label,
        width: kind === 'item' ? '124px' : 'minmax(0, 1fr)',
        numeric: f.type !== 'code' && f.type !== 'text',
        cell: (r: RecordRow) => shown(f, r.values[f.name]) ?? '–',
      })),
    {
      key: 'trouble',
      head: 'Trouble',
      hidden: true,
      width: '26px',
      cell: (r: RecordRow) =>
        r.problems.length > 0 ? (
          <span className="tag clay" role="img" aria-label="not as described" title={r.problems.map((p) => p.message).join('; ')}>
            !
          </span>
        ) : null,
    },
  ]
}

function RecordSheet(props: { system: System; kind: Kind; recordKey: string | undefined; described: KindFields | undefined }) {
  const { system, kind, recordKey } = props
  const record = useQuery({
    enabled: recordKey !== undefined,
    ...queries.record(system.id, kind, recordKey as string),
  })
  // It folds away until it has something to say.
  if (!recordKey) return null
  return (
    <div className="sheet side">
      <Loaded of={record}>
        {({ record: r, raw, rawParent, children }) => (
          <>
            <div className="sheet-head">
              <SystemMark system={system} /> {r.caption ?? r.key}
            </div>
            {r.problems.map((p) => (
              <div key={p.field} className="line minus small">
                {p.message}
              </div>
            ))}
            {(props.described?.fields ?? []).map((f) => (
              <div key={f.name} className="line small" style={{ gridTemplateColumns: '110px minmax(0, 1fr)' }}>
                <span className="dim">{f.label}</span>
                <span style={{ overflowWrap: 'anywhere' }}>
                  {shown(f, r.values[f.name]) ?? <span className="dim">none</span>} {r.values[f.name] ? f.unit : ''}
                </span>
              </div>
            ))}
            {(props.described?.children ?? []).map((list) => (
              <Children key={list.name} list={list} entries={children[list.name] ?? []} />
            ))}
            <div className="line small dim" style={{ gridTemplateColumns: '1fr auto' }}>
              <span>in this form since {when(r.changedAt)}</span>
              {kind === 'item' && (
                <Link to="/systems/$system/records/$key" params={{ system: system.id, key: r.key }} className="act">
                  History
                </Link>
              )}
            </div>
            <Raw title="What the system sent" text={raw} />
            {rawParent && <Raw title="What it sent around it" text={rawParent} />}
          </>
        )}
      </Loaded>
    </div>
  )
}

/** A list within the record, e.g. an order's lines. */
function Children({ list, entries }: { list: KindFields['children'][number]; entries: Record<string, string>[] }) {
  return (
    <details className="line small" style={{ display: 'block' }} open>
      <summary>
        {list.label} <span className="num">{count(entries.length)}</span>
      </summary>
      <Scrolls label={list.label}>
        <table className="plain-table small">
          <thead>
            <tr>
              {list.fields.map((f) => (
                <th key={f.name}>{f.unit ? `${f.label}, ${f.unit}` : f.label}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {entries.map((e, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: entries have no other name than their place
              <tr key={i}>
                {list.fields.map((f) => (
                  <td key={f.name}>{value(e[f.name], f.type)}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </Scrolls>
    </details>
  )
}

function Raw({ title, text }: { title: string; text: string }) {
  return (
    <>
      <div className="line row small" style={{ display: 'flex' }}>
        <span className="grow dim">{title}</span>
        <CopyButton value={text}>
          {({ copied, copy }) => (
            <button type="button" className="act" onClick={copy}>
              {copied ? 'Copied' : 'Copy'}
            </button>
          )}
        </CopyButton>
      </div>
      <pre className="raw">{JSON.stringify(JSON.parse(text), null, 2)}</pre>
    </>
  )
}
