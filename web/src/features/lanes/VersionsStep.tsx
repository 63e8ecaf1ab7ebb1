import { Button, FileButton, Select } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, take } from '../../shared/api'
import { plural, when } from '../../shared/format'
import { queries, useRenew } from '../../shared/queries'
import { shown } from '../../shared/shown'
import { Empty, Failed } from '../../shared/states'
import { useView } from '../../shared/useView'
import { placeInWords } from './documentWords'
import { type RuleView, useDraft } from './draft'

/** Every version of the lane's document: compared with another, put back into the draft; and the lane as a file. */
export function VersionsStep() {
  const { lane, versions, base, put } = useDraft()
  const [state, set] = useView('/lanes/$lane/versions')
  const go = (change: typeof state) => set(change, true)
  const find = (n: string | undefined) => versions.find((v) => String(v.number) === n)
  const newer = find(state.row) ?? (versions[0] as RuleView)
  const older = find(state.tab) ?? versions.find((v) => v.number < newer.number)
  return (
    <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)' }}>
      <div className="side stack">
        <section className="sheet" aria-label="Versions">
          <div className="sheet-head">Versions</div>
          {versions.map((v) => (
            <div
              key={v.number}
              className="line small"
              aria-current={v === newer}
              style={{ gridTemplateColumns: '30px 96px minmax(0, 1fr) auto auto' }}
            >
              <span className="mono">{v.number}</span>
              <span className="dim">{when(v.at)}</span>
              <span>
                {v.author}
                {v.note ? `: ${v.note}` : ''}
              </span>
              <button type="button" className="act" onClick={() => go({ row: String(v.number), tab: undefined })}>
                Compare
              </button>
              {v.number === base.number ? (
                <span className="tag plain">in force</span>
              ) : (
                <button
                  type="button"
                  className="act"
                  onClick={() => {
                    put(v)
                    notifications.show({
                      message: `Version ${v.number} is in the draft; its effect is shown below. Save it to put it in force.`,
                    })
                  }}
                >
                  Restore
                </button>
              )}
            </div>
          ))}
        </section>
        <AsFile lane={lane.id} base={base.number} />
      </div>
      <section className="sheet side" aria-label="Difference">
        <div className="sheet-head">
          {older ? (
            <>
              <span>From</span>
              <Select
                aria-label="Older version"
                size="xs"
                w={120}
                allowDeselect={false}
                data={versions.map((v) => ({ value: String(v.number), label: `version ${v.number}` }))}
                value={String(older.number)}
                onChange={(v) => go({ tab: v ?? undefined })}
              />
              <span className="grow">to version {newer.number}</span>
            </>
          ) : (
            <span>Version {newer.number} is the first</span>
          )}
        </div>
        {older && <Difference from={older} to={newer} />}
      </section>
    </div>
  )
}

function Difference({ from, to }: { from: RuleView; to: RuleView }) {
  const [a, b] = [flat(from), flat(to)]
  const paths = [...new Set([...a.keys(), ...b.keys()])].filter((p) => a.get(p) !== b.get(p))
  if (paths.length === 0) return <Empty title="No difference">Both versions say the same.</Empty>
  return (
    <table className="plain-table small">
      <thead>
        <tr>
          <th>{plural(paths.length, 'difference')}</th>
          <th>version {from.number}</th>
          <th>version {to.number}</th>
        </tr>
      </thead>
      <tbody>
        {paths.map((p) => (
          <tr key={p}>
            <td title={p}>{placeInWords(p)}</td>
            <td className="struck">{shown(a.get(p))}</td>
            <td className="strong">{shown(b.get(p))}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

const beginning = (from: string | undefined) => (from === undefined ? undefined : `from ${from}`)

/** A version's document as paths and values; entries of lists that have a name go by it. */
function flat(version: RuleView) {
  const lines = new Map<string, string>()
  const walk = (value: unknown, path: string) => {
    if (value === null || value === undefined) return
    if (typeof value !== 'object') {
      lines.set(path, String(value))
      return
    }
    if (Array.isArray(value)) {
      value.forEach((v, i) => {
        const named = v as { target?: string; name?: string; from?: string; field?: string } | string
        walk(
          v,
          `${path}[${typeof named === 'object' && named ? (named.target ?? named.name ?? beginning(named.from) ?? named.field ?? i) : i}]`,
        )
      })
      return
    }
    for (const [key, inner] of Object.entries(value)) walk(inner, path === '' ? key : `${path}.${key}`)
  }
  const { kind: _, ...document } = version.document
  for (const part of Object.values(document)) walk(part, '')
  walk(version.guards, 'guards')
  return lines
}

function AsFile({ lane, base }: { lane: string; base: number }) {
  const client = useQueryClient()
  const renew = useRenew()
  const read = useMutation({
    mutationFn: async (file: File) =>
      take(
        api.POST('/api/lanes/{id}/file', {
          params: { path: { id: lane } },
          body: { baseNumber: base, text: await file.text(), note: `from ${file.name}` },
        }),
      ),
    onSuccess: (answer) => {
      if (answer.number === null) return
      notifications.show({ color: 'var(--glaze)', message: `Read, and saved as version ${answer.number}.` })
      // The draft begins anew on what was read.
      void client.resetQueries({ queryKey: queries.versions(lane).queryKey })
      void renew('lanes')
    },
  })
  const faults = read.data?.faults ?? []
  return (
    <section className="sheet pad stack" aria-label="As a file">
      <div className="row">
        <span className="grow">
          The whole lane as a file: its map or rule, crosswalks, guards and scope, by a{' '}
          <a href="/api/schemas/lane.json" className="act">
            JSON Schema
          </a>
          .
        </span>
        <Button component="a" href={`/api/lanes/${lane}/file`} download>
          Export
        </Button>
        <FileButton onChange={(file) => file && read.mutate(file)} accept="application/json,.json">
          {(given) => (
            <Button {...given} loading={read.isPending}>
              Import
            </Button>
          )}
        </FileButton>
      </div>
      {read.isError && <Failed error={read.error} />}
      {read.data?.number === null && (
        <div role="alert">
          <div className="minus strong">The file was not taken: {plural(faults.length, 'fault')}.</div>
          <table className="plain-table small">
            <tbody>
              {faults.map((f) => (
                <tr key={f.path + f.message}>
                  <td className="mono">{f.path || '(whole file)'}</td>
                  <td>{f.message}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  )
}
