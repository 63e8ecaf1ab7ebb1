import { Button, FileButton } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useMutation } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { type Schemas, sendFile } from '../../shared/api'
import { plural } from '../../shared/format'
import { useRenew } from '../../shared/queries'
import { Failed } from '../../shared/states'

type Report = Schemas['WorkspaceReport']

const mostShown = 200

/** The workspace as files: taken away as an archive, looked at and taken in. */
export function AsFiles() {
  const [file, setFile] = useState<File | null>(null)
  const renew = useRenew()
  const reset = useRef<() => void>(null)
  const look = useMutation({ mutationFn: (from: File) => sendFile<Report>('/api/workspace/files/look', from) })
  const leave = () => {
    reset.current?.()
    setFile(null)
    look.reset()
  }
  const takeIn = useMutation({
    mutationFn: (report: Report) => sendFile<Report>(`/api/workspace/files?basis=${report.basis}`, file as File),
    onSuccess: (taken) => {
      leave()
      notifications.show({ color: 'var(--glaze)', message: `${plural(taken.changes.length, 'change')} taken in.` })
      void renew()
    },
  })
  return (
    <section className="sheet pad stack" aria-label="As files">
      <h2>As files</h2>
      <div className="dim">
        Systems, lanes with their rules, maps, crosswalks and timetables, pairs and these settings, one thing a file, for version control.
        Secrets stand in none, nor does what was read, run and sent.
      </div>
      <div className="row">
        <Button component="a" href="/api/workspace/files" download="workspace.zip">
          Take them away (zip)
        </Button>
        <FileButton
          accept=".zip"
          resetRef={reset}
          onChange={(chosen) => {
            if (!chosen) return
            setFile(chosen)
            look.mutate(chosen)
          }}
        >
          {(props) => (
            <Button {...props} loading={look.isPending}>
              Look at files (zip)
            </Button>
          )}
        </FileButton>
        {file && <span className="dim">{file.name}</span>}
      </div>
      {look.isError && <Failed error={look.error} />}
      {takeIn.isError && <Failed error={takeIn.error} />}
      {look.data && <Found report={look.data} taking={takeIn.isPending} leave={leave} take={() => takeIn.mutate(look.data)} />}
    </section>
  )
}

function Found({ report, taking, leave, take }: { report: Report; taking: boolean; leave: () => void; take: () => void }) {
  const { faults, changes, means, stays } = report
  const wrong = faults.length > 0
  const said = wrong
    ? `${plural(faults.length, 'fault')}: nothing can be taken in until ${faults.length === 1 ? 'it is' : 'they are'} mended.`
    : changes.length === 0
      ? 'Nothing would change: the workspace is as the files say.'
      : `${plural(changes.length, 'change')}, all or none.`
  return (
    <>
      <div className={`note ${wrong ? 'harm' : changes.length > 0 ? 'ochre' : 'glaze'}`}>
        <span className="grow">{said}</span>
        <Button size="compact-sm" onClick={leave}>
          Leave it
        </Button>
        {!wrong && changes.length > 0 && (
          <Button size="compact-sm" variant="filled" loading={taking} onClick={take}>
            Take {changes.length === 1 ? 'it' : 'them'} in
          </Button>
        )}
      </div>
      {means.map((sentence) => (
        <div key={sentence} className="note ochre">
          {sentence}
        </div>
      ))}
      <Places of={wrong ? faults : changes} label={wrong ? 'What is wrong' : 'What would change'} />
      {stays.map((s) => (
        <div key={s} className="dim">
          {s}
        </div>
      ))}
    </>
  )
}

function Places({ of, label }: { of: { file: string; line?: number | null; words: string }[]; label: string }) {
  if (of.length === 0) return null
  return (
    <>
      <table className="plain-table" aria-label={label}>
        <thead>
          <tr>
            <th style={{ width: 300 }}>File</th>
            <th style={{ width: 70 }}>Line</th>
            <th>{label}</th>
          </tr>
        </thead>
        <tbody>
          {of.slice(0, mostShown).map((place) => (
            <tr key={`${place.file}:${place.line}:${place.words}`}>
              <td>{place.file}</td>
              <td className="num">{place.line ?? ''}</td>
              <td style={{ overflowWrap: 'anywhere' }}>{place.words}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {of.length > mostShown && <div className="dim">and {plural(of.length - mostShown, 'more', 'more')}</div>}
    </>
  )
}
