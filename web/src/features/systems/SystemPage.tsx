import { Button, CopyButton, JsonInput, PasswordInput, Switch, TextInput } from '@mantine/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link, useParams } from '@tanstack/react-router'
import { useState } from 'react'
import { useReadSystem } from '../../shared/acts'
import { api, type Schemas, take } from '../../shared/api'
import { Chips } from '../../shared/Chips'
import { count, value, when } from '../../shared/format'
import { LongTable } from '../../shared/LongTable'
import { isNoStep } from '../../shared/listState'
import { queries, useRenew } from '../../shared/queries'
import { Scrolls } from '../../shared/Scrolls'
import { Search } from '../../shared/Search'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Failed, Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'
import { useTestSystem } from './actions'
import { BringFile } from './BringFile'
import { credentialOf } from './describe/actions'
import { GrantAccess } from './describe/GrantAccess'
import { isServer, named, ServerSignIn, signInWords } from './describe/SignIn'
import { Hook } from './Hook'
import { NotKept } from './NotKept'
import { Standing } from './Removed'
import { kinds, Reach, ReadLines, type System } from './SystemsPage'
import { Versions } from './Versions'

type Kind = Schemas['RecordKind']
type RecordRow = Schemas['RecordRow']
type KindFields = Schemas['KindFields']

export function SystemPage() {
  const { system: id } = useParams({ from: '/systems/$system' })
  const [state, set] = useView('/systems/$system')
  const systems = useQuery(queries.systems())
  const test = useTestSystem()
  const read = useReadSystem()
  const tab = state.tab ?? 'records'
  return (
    <Loaded of={systems}>
      {(all) => {
        const system = all.find((s) => s.id === id)
        if (!system) return <Empty title="There is no such system">It may have been renamed.</Empty>
        return (
          <div className="page page-fixed">
            <div className="page-head">
              <SystemMark system={system} />
              <h1>{system.name}</h1>
              <span className="dim">
                {kinds[system.kind]}
                {system.isHub ? ', the hub' : ''}
              </span>
              <Reach system={system} />
              <span className="grow" />
              <Button loading={test.isPending} onClick={() => test.mutate(system.id)}>
                Test
              </Button>
              <Button onClick={() => read.mutate({ system: id, full: true })}>Read everything</Button>
              <Button renderRoot={(p) => <Link {...p} to="/systems/$system/describe" params={{ system: id }} />}>How it works</Button>
            </div>
            <div className="sheet">
              <ReadLines system={system} />
            </div>
            <fieldset className="row" style={{ border: 0, margin: 0, padding: 0 }} aria-label="What to show">
              {['records', 'fields', 'connection', 'versions'].map((t) => (
                <button key={t} type="button" className="chip slim" aria-pressed={tab === t} onClick={() => set({ tab: t })}>
                  {t[0]?.toUpperCase()}
                  {t.slice(1)}
                </button>
              ))}
            </fieldset>
            {tab === 'records' && <Records system={system} />}
            {tab === 'fields' && <Fields id={id} />}
            {tab === 'versions' && <Versions system={system} />}
            {tab === 'connection' && (
              <div className="side stack">
                <ConnectionForm key={system.revision} system={system} />
                {system.sendsWebhooks && <Hook system={system} />}
                {system.byFiles && <BringFile system={system} />}
                <Standing system={system} />
              </div>
            )}
          </div>
        )
      }}
    </Loaded>
  )
}

function Records({ system }: { system: System }) {
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

const typeWords: Partial<Record<Schemas['FieldType'], string>> = {
  html: 'HTML',
  integer: 'whole number',
  decimal: 'number',
  money: 'amount',
  boolean: 'yes or no',
  instant: 'point in time',
  image: 'image address',
}

/** A place to work from: what each field holds, what it is, and which lanes read or write it. */
function Fields({ id }: { id: string }) {
  const fields = useQuery(queries.fields(id))
  const atWork = useQuery(queries.fieldsAtWork(id))
  return (
    <Loaded of={fields}>
      {(all) => (
        <div className="stack">
          {all.map((k) => (
            <section key={k.kind} className="sheet" aria-label={`Fields of ${k.label}`}>
              <h2>{k.label}</h2>
              <table className="plain-table">
                <thead>
                  <tr>
                    <th style={{ width: '19%' }}>Field</th>
                    <th style={{ width: '17%' }}>What it is</th>
                    <th>Some values</th>
                    <th style={{ width: '30%' }}>Used in</th>
                    <th style={{ width: 120 }}>May be written</th>
                  </tr>
                </thead>
                <tbody>
                  {k.fields.map((f) => (
                    <FieldRow
                      key={f.name}
                      system={id}
                      kind={k.kind}
                      field={f}
                      atWork={atWork.data?.find((w) => w.kind === k.kind && w.field === f.name)}
                    />
                  ))}
                </tbody>
              </table>
            </section>
          ))}
        </div>
      )}
    </Loaded>
  )
}

function FieldRow(props: { system: string; kind: Kind; field: Schemas['FieldDescription']; atWork: Schemas['FieldAtWork'] | undefined }) {
  const { field: f, atWork } = props
  const facts = [
    f.list && `list ${f.list}`,
    f.unit,
    f.required && 'required',
    !f.canBeEmptied && !f.required && f.writable && 'cannot be emptied',
  ]
  return (
    <tr>
      <td className="strong">{f.label}</td>
      <td>
        {typeWords[f.type] ?? f.type}
        <div className="dim small">{facts.filter(Boolean).join(', ')}</div>
      </td>
      <td className="small" style={{ overflowWrap: 'anywhere' }}>
        {(atWork?.samples ?? []).map((s, i) => (
          <span key={s}>
            {i > 0 && <span className="dim"> · </span>}
            {short(value(s, f.type))}
          </span>
        ))}
        {atWork && atWork.samples.length === 0 && <span className="dim">nothing in the records looked at</span>}
      </td>
      <td className="small">
        {(atWork?.lanes ?? []).map((l) => (
          <div key={`${l.laneId}${l.writes}`}>
            <Link to="/lanes/$lane" params={{ lane: l.laneId }}>
              {l.name}
            </Link>{' '}
            <span className="dim">{l.writes ? 'writes it' : 'reads it'}</span>
          </div>
        ))}
      </td>
      <td>{f.writable ? 'yes' : ''}</td>
    </tr>
  )
}

const short = (text: string) => (text.length > 60 ? `${text.slice(0, 58)}…` : text)

function ConnectionForm({ system }: { system: System }) {
  const document = useQuery(queries.description(system.id, system.revision))
  return <Loaded of={document}>{(text) => <ConnectionFields system={system} described={text as string} />}</Loaded>
}

function ConnectionFields({ system, described }: { system: System; described: string }) {
  const renew = useRenew()
  const [document, setDocument] = useState(described)
  const [address, setAddress] = useState(system.address)
  const [secret, setSecret] = useState({ user: '', secret: '' })
  const [endsOn, setEndsOn] = useState(system.credentialEndsOn ?? '')
  const [mayRead, setMayRead] = useState(system.mayRead)
  const [mayWrite, setMayWrite] = useState(system.mayWrite)
  const [readsWholeDaily, setReadsWholeDaily] = useState(system.readsWholeDaily)
  const save = useMutation({
    mutationFn: () =>
      take(
        api.PUT('/api/systems/{id}', {
          params: { path: { id: system.id } },
          body: {
            revision: system.revision,
            address,
            credential: credentialOf(secret),
            mayRead,
            mayWrite,
            readsWholeDaily,
            document,
            credentialEndsOn: endsOn,
          },
        }),
      ),
    onSuccess: () => void renew('systems'),
  })
  return (
    <section className="sheet pad stack" style={{ maxWidth: 720 }}>
      <TextInput label={system.byFiles ? 'Folder' : 'Address'} value={address} onChange={(e) => setAddress(e.currentTarget.value)} />
      {!system.byFiles && (
        <>
          <div className="dim small">
            It signs callers in by {signInWords(system.signsInWith)}.{' '}
            {system.hasCredential
              ? `Credentials were entered ${when(system.credentialSetAt)} and are not shown again.`
              : 'No credentials are stored.'}
          </div>
          <div className="row" style={{ alignItems: 'end' }}>
            {named.includes(system.signsInWith) && (
              <TextInput
                label={system.signsInWith === 'basic' ? 'New user' : 'New client'}
                value={secret.user}
                onChange={(e) => setSecret({ ...secret, user: e.currentTarget.value })}
              />
            )}
            <PasswordInput
              className="grow"
              label="New password, key or token"
              description="empty: stays as it is"
              value={secret.secret}
              onChange={(e) => setSecret({ ...secret, secret: e.currentTarget.value })}
            />
            <TextInput
              type="date"
              label="Holds until"
              description="empty: no end is known"
              value={endsOn}
              onChange={(e) => setEndsOn(e.currentTarget.value)}
            />
          </div>
          <div className="dim small">Two weeks before that day the mismatch desk says so.</div>
        </>
      )}
      {system.signsInWith === 'authorizationcode' && <Granted system={system} />}
      {isServer(address) && (
        <>
          <ServerSignIn secret={secret} setSecret={setSecret} kept={system.hasCredential} />
          <HostKey system={system} />
        </>
      )}
      <JsonInput
        label="Description"
        description="how its interface works; docs/connect.md explains every part"
        value={document}
        onChange={setDocument}
        minRows={6}
        maxRows={16}
        autosize
        styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)', fontSize: 12 } }}
      />
      <Switch label="Narbit may read it" checked={mayRead} onChange={(e) => setMayRead(e.currentTarget.checked)} />
      <Switch label="Narbit may write to it" checked={mayWrite} onChange={(e) => setMayWrite(e.currentTarget.checked)} />
      <Switch
        label="Read it as a whole once a day"
        description="finds what its list of changes leaves out, and what is gone"
        checked={readsWholeDaily}
        onChange={(e) => setReadsWholeDaily(e.currentTarget.checked)}
      />
      <div className="dim small">
        {system.byFiles ? 'Read as files' : `At most ${count(system.requestsPerSecond)} requests a second`}
        {system.batchSize > 0 ? `, ${count(system.batchSize)} records in a write` : ', read only by its description'}.
      </div>
      {save.isError && <Failed error={save.error} />}
      <div>
        <Button variant="filled" loading={save.isPending} onClick={() => save.mutate()}>
          Save the connection
        </Button>
      </div>
    </section>
  )
}

/** The key by which the system's server is known again. */
function HostKey({ system }: { system: System }) {
  const renew = useRenew()
  const forget = useMutation({
    mutationFn: () => take(api.DELETE('/api/systems/{id}/host-key', { params: { path: { id: system.id } } })),
    onSuccess: () => void renew('systems'),
  })
  if (!system.hostKey)
    return <span className="dim small">Its server was not met yet; the host key that it shows first counts from then on.</span>
  return (
    <div className="row wrap">
      <span className="small">
        Known by the host key <span className="mono">SHA256:{system.hostKey}</span>
      </span>
      <button type="button" className="act" disabled={forget.isPending} onClick={() => forget.mutate()}>
        Forget it: the server was set up anew
      </button>
      {forget.isError && <Failed error={forget.error} />}
    </div>
  )
}

/** What a person has granted at the system, and how it is granted again. */
function Granted({ system }: { system: System }) {
  const renew = useRenew()
  return (
    <div className="stack">
      {system.grantLostWhy && (
        <div className="note harm" role="alert">
          <span>
            The access that was granted {when(system.grantedAt)} counts no more: {system.grantLostWhy}
          </span>
        </div>
      )}
      <GrantAccess
        standing={system.grantedAt && !system.grantLostWhy ? 'granted' : 'not granted'}
        ask={() => take(api.POST('/api/systems/{id}/grant', { params: { path: { id: system.id } } }))}
        given={() => void renew('systems')}
      />
    </div>
  )
}
