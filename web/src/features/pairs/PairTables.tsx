import { Button, FileButton, Textarea } from '@mantine/core'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Schemas, sendFile, take } from '../../shared/api'
import { count, plural } from '../../shared/format'
import { useRenew } from '../../shared/queries'
import { sayRefusal } from '../../shared/refusal'
import type { Couple } from './actions'

type Report = Schemas['PairTableReport']
type Source = { file: File } | { text: string }

/** Pair tables and kit tables, in and out: as files, or pasted from a spreadsheet. */
export function PairTables({ couple }: { couple: Couple }) {
  const [text, setText] = useState('')
  const [source, setSource] = useState<Source>()
  const renew = useRenew()
  const intake = useMutation({
    mutationFn: ({ from, whatFits }: { from: Source; whatFits: boolean }) => importFrom(couple.id, from, whatFits),
    onSuccess: () => {
      void renew('couples', 'desk')
    },
    onError: sayRefusal,
  })
  const begin = (from: Source) => {
    setSource(from)
    intake.mutate({ from, whatFits: false })
  }
  const table = (form: string) => `/api/couples/${couple.id}/table?form=${form}`
  return (
    <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 380px', alignItems: 'start' }}>
      <section className="sheet pad stack" aria-labelledby="table-in">
        <h2 id="table-in" style={{ margin: 0, padding: 0, fontSize: 15 }}>
          Take a table in
        </h2>
        <span className="dim">
          Columns <span className="mono">hub_key</span>, <span className="mono">sku</span> (of {couple.other.name}), and where wanted{' '}
          <span className="mono">system</span> and <span className="mono">quantity</span>. Several lines for one SKU, or a quantity other
          than 1, make a kit. Either every line fits or nothing is taken.
        </span>
        <div className="row">
          <FileButton accept=".csv,.tsv,.txt,.xlsx,.jsonl" onChange={(file) => file && begin({ file })}>
            {(p) => (
              <Button {...p} loading={intake.isPending}>
                Choose a file: CSV, XLSX
              </Button>
            )}
          </FileButton>
          <span className="dim">or paste from a spreadsheet:</span>
        </div>
        <Textarea
          aria-label="Pasted table"
          minRows={6}
          autosize
          maxRows={12}
          placeholder={'hub_key\tsku\tquantity\n10001\tKIT-THR-1\t2'}
          value={text}
          onChange={(e) => setText(e.currentTarget.value)}
          classNames={{ input: 'mono' }}
        />
        <div className="row">
          <Button variant="filled" disabled={text.trim() === ''} loading={intake.isPending} onClick={() => begin({ text })}>
            Take in what is pasted
          </Button>
        </div>
        {intake.data && source && <ReportView report={intake.data} takeRest={() => intake.mutate({ from: source, whatFits: true })} />}
      </section>
      <section className="sheet pad stack" aria-labelledby="table-out">
        <h2 id="table-out" style={{ margin: 0, padding: 0, fontSize: 15 }}>
          Take the pairs away
        </h2>
        <span className="dim">
          The {plural(couple.counts.paired, 'listing')} that {couple.counts.paired === 1 ? 'is' : 'are'} paired, in the same columns, so
          that the table can be taken in again.
        </span>
        <div className="row">
          <Button component="a" href={table('csv')} download>
            CSV
          </Button>
          <Button component="a" href={table('xlsx')} download>
            XLSX
          </Button>
        </div>
      </section>
    </div>
  )
}

function ReportView({ report, takeRest }: { report: Report; takeRest: () => void }) {
  const bad = report.faults.length > 0
  return (
    <div className="stack" role="status">
      <div className={`note ${bad ? (report.taken > 0 ? 'ochre' : 'harm') : 'glaze'}`}>
        <span className="grow">
          {plural(report.lines, 'line')} read.{' '}
          {report.taken > 0
            ? `${plural(report.taken, 'decision')} added; review and commit them.`
            : bad
              ? `${plural(report.faults.length, 'line')} did not fit, so nothing was taken.`
              : 'Nothing new in it.'}
          {report.already > 0 && ` ${count(report.already)} in force already.`}
        </span>
        {bad && report.taken === 0 && report.pairs > report.already && <Button onClick={takeRest}>Take what fits</Button>}
      </div>
      {bad && (
        <table className="plain-table">
          <thead>
            <tr>
              <th style={{ width: 60 }}>Line</th>
              <th>Why it does not fit</th>
            </tr>
          </thead>
          <tbody>
            {report.faults.slice(0, 50).map((f) => (
              <tr key={`${f.line}${f.message}`}>
                <td className="num">{count(f.line)}</td>
                <td>{f.message}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  )
}

async function importFrom(id: number, from: Source, whatFits: boolean): Promise<Report> {
  if ('text' in from)
    return take(api.POST('/api/couples/{id}/table/text', { params: { path: { id } }, body: { text: from.text, whatFits } }))
  return sendFile<Report>(`/api/couples/${id}/table?whatFits=${whatFits}`, from.file)
}
