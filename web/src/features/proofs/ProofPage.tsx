import { SegmentedControl } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from '@tanstack/react-router'
import { count, exactShare, value, when } from '../../shared/format'
import { type Column, LongTable } from '../../shared/LongTable'
import { queries } from '../../shared/queries'
import { Search } from '../../shared/Search'
import { SheetLinks } from '../../shared/SheetLinks'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'
import { findingOf, findings, type Line, type Proof } from './proof'

const shown = (text: string | null, unit: string | null) =>
  text === null ? <span className="dim">nothing</span> : `${value(text)}${unit ? ` ${unit}` : ''}`

const columns: Column<Line>[] = [
  {
    key: 'finding',
    head: 'Found',
    width: '134px',
    cell: (r) => <span className={`tag ${findingOf(r.finding)?.tone}`}>{findingOf(r.finding)?.word}</span>,
  },
  { key: 'ref', head: 'Called', width: '136px', cell: (r) => <span className="mono">{r.reference ?? r.targetKey}</span> },
  { key: 'caption', head: 'Record', width: 'minmax(0, 1fr)', cell: (r) => r.caption ?? <span className="dim">{r.sourceKey}</span> },
  { key: 'field', head: 'Field', width: '118px', cell: (r) => r.field ?? <span className="dim">the record</span> },
  {
    key: 'there',
    head: 'There',
    width: 'minmax(0, 0.6fr)',
    cell: (r) => (r.field === null ? <span className="dim">{r.words}</span> : shown(r.there, r.unit)),
  },
  {
    key: 'should',
    head: 'Should be',
    width: 'minmax(0, 0.6fr)',
    cell: (r) =>
      r.field === null || r.finding === 'mistaken' ? <span className="dim">{r.field && r.words}</span> : shown(r.should, r.unit),
  },
  {
    key: 'before',
    head: 'Agreed or believed',
    width: 'minmax(0, 0.6fr)',
    cell: (r) => (r.before === null ? <span className="dim">never agreed</span> : <span className="dim">{shown(r.before, r.unit)}</span>),
  },
]

const of = (part: number, whole: number, what: string) => `${exactShare(part, whole)} of ${count(whole)} ${what}`

/** What a full compare found of a lane, record by record. */
export function ProofPage() {
  const { proof: id } = useParams({ from: '/proof/$proof' })
  const proof = useQuery(queries.proof(Number(id)))
  return (
    <div className="page page-fixed">
      <Loaded of={proof}>{(view) => <View proof={view} />}</Loaded>
    </div>
  )
}

function View({ proof }: { proof: Proof }) {
  const [state, set] = useView('/proof/$proof')
  const query = { finding: state.show, search: state.search }
  const some = findings.filter((f) => f.of(proof) > 0)
  const total = some.reduce((sum, f) => sum + f.of(proof), 0)
  const asked = Object.entries(query).filter((e): e is [string, string] => e[1] !== undefined)
  const file = (form: string) => `/api/proofs/${proof.id}.${form}?${new URLSearchParams(asked)}`
  return (
    <>
      <div className="page-head">
        <h1 className="row" style={{ gap: 10 }}>
          <Link to="/proof" className="act" style={{ fontSize: 15 }}>
            Proof of step
          </Link>
          <span className="dim" aria-hidden="true">
            ›
          </span>
          {proof.lane}
        </h1>
        <span className="row dim" style={{ gap: 6 }}>
          {proof.source && <SystemMark system={proof.source} />} {proof.target && <SystemMark system={proof.target} />} compared{' '}
          {when(proof.at)} by version {proof.ruleNumber}, asked for by {proof.by ?? 'the night'}
        </span>
        <span className="grow" />
        <SheetLinks file={file} />
      </div>
      <div className="row wrap tools">
        <SegmentedControl
          aria-label="Which"
          value={state.show ?? 'all'}
          onChange={(show) => set({ show: show === 'all' ? undefined : show })}
          data={[
            { value: 'all', label: `All ${count(total)}` },
            ...some.map((f) => ({ value: f.finding, label: `${count(f.of(proof))} ${f.word}` })),
          ]}
        />
        <span className="grow" />
        <span className="dim small">
          {of(proof.recordsInStep, proof.records, 'records')}, {of(proof.fieldsInStep, proof.fields, 'fields')} in step
        </span>
        <Search label="SKU or name" text={state.search ?? ''} search={(search) => set({ search })} />
      </div>
      <div className="sheet" style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
        <LongTable<Line>
          label="What was found"
          pages={queries.proofLines(proof.id, query)}
          rowKey={(r) => `${r.finding} ${r.sourceKey} ${r.targetKey} ${r.field ?? ''}`}
          columns={columns}
          empty={<Empty title="All in step">{proof.why ?? 'Nothing was found that is otherwise than it should be.'}</Empty>}
        />
      </div>
    </>
  )
}
