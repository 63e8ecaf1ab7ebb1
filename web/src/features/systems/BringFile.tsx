import { Button, FileButton, Select } from '@mantine/core'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import type { Schemas } from '../../shared/api'
import { useRenew } from '../../shared/queries'
import { Failed } from '../../shared/states'
import { bringFile } from './describe/files/useBrought'
import type { System } from './SystemsPage'

/** A file that came by another way, e.g. by mail, is taken as one that the system has written. */
export function BringFile({ system }: { system: System }) {
  const [kind, setKind] = useState(system.reads[0]?.kind)
  const renew = useRenew()
  const bring = useMutation({
    mutationFn: (of: { kind: Schemas['RecordKind']; file: File }) => bringFile(system.id, of.kind, of.file),
    onSuccess: () => void renew('systems'),
  })
  if (!kind) return null
  return (
    <section className="sheet pad stack" aria-label="Bring a file">
      <h2>Bring a file</h2>
      <span className="dim small">It is put beside those that {system.name} writes itself, under the name that they have.</span>
      <div className="row" style={{ alignItems: 'end' }}>
        <Select
          label="It holds"
          w={180}
          allowDeselect={false}
          data={system.reads.map((r) => ({ value: r.kind, label: r.label }))}
          value={kind}
          onChange={(to) => setKind(to as Schemas['RecordKind'])}
        />
        <FileButton accept=".csv,.tsv,.txt,.xlsx,.jsonl,.ndjson" onChange={(file) => file && bring.mutate({ kind, file })}>
          {(open) => (
            <Button {...open} loading={bring.isPending}>
              Choose it
            </Button>
          )}
        </FileButton>
      </div>
      {bring.data && (
        <div className="note glaze" role="status">
          <span>
            It is there as <span className="mono">{bring.data.name}</span>. “Read everything” takes it in.
          </span>
        </div>
      )}
      {bring.isError && <Failed error={bring.error} />}
    </section>
  )
}
