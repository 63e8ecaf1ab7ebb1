import { Button, FileButton, NumberInput, TextInput } from '@mantine/core'
import { useMutation } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { Failed } from '../../../../shared/states'
import { evidenceOf, withResource } from '../description'
import type { KeptDescription } from '../keptDescription'
import { Place } from '../Place'
import { isServer, type Secret, ServerSignIn } from '../SignIn'
import { FileSheet } from './FileSheet'
import { type FileDescription, withFolder } from './fileDescription'
import { type Brought, proposeFile } from './useBrought'

type Proposal = Awaited<ReturnType<typeof proposeFile>>

/** A system that is reached by files: one of each sort is looked at, and says how they are read. */
export function FilesForm(props: {
  kept: KeptDescription<FileDescription>
  brought: Brought
  secret: Secret
  setSecret: (secret: Secret) => void
}) {
  const { kept, brought } = props
  const { description, set } = kept
  const [remarks, setRemarks] = useState<Record<string, string[]>>({})
  const take = (file: File, proposal: Proposal) => {
    const { kind } = proposal.resource
    kept.learn(Object.fromEntries(proposal.fields.map((f) => [evidenceOf(kind, f.path), { values: f.values, reasons: f.reasons }])))
    setRemarks((r) => ({ ...r, [kind]: proposal.remarks }))
    brought.keep(kind, file, proposal.columns)
    set((d) => withResource(d, proposal.resource))
  }
  return (
    <>
      <Drop take={take} />
      {description.resources.map((resource, i) => (
        <FileSheet
          // biome-ignore lint/suspicious/noArrayIndexKey: a list is told by its place while its kind is being chosen
          key={i}
          description={description}
          resource={resource}
          evidence={kept.evidence}
          remarks={remarks[resource.kind]}
          brought={brought.of(resource.kind)}
          take={take}
          set={(to) => kept.replace(i, to)}
          remove={() => kept.replace(i)}
        />
      ))}
      <Folders kept={kept} secret={props.secret} setSecret={props.setSecret} />
    </>
  )
}

/** Files are dropped in or chosen, one of each sort. */
function Drop({ take }: { take: (file: File, proposal: Proposal) => void }) {
  const [over, setOver] = useState(false)
  const reset = useRef<() => void>(null)
  const look = useMutation({
    // One that says nothing does not keep the others from being looked at.
    mutationFn: async (files: File[]) => {
      const refused: unknown[] = []
      for (const file of files) await proposeFile(file).then((proposal) => take(file, proposal), refused.push.bind(refused))
      reset.current?.()
      return refused
    },
  })
  return (
    <section className="sheet pad stack" aria-label="Its files">
      <h2>Its files</h2>
      <fieldset
        className="row drop"
        aria-label="Where files are dropped"
        data-over={over || undefined}
        onDragOver={(e) => {
          e.preventDefault()
          setOver(true)
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault()
          setOver(false)
          look.mutate([...e.dataTransfer.files])
        }}
      >
        <FileButton multiple resetRef={reset} accept=".csv,.tsv,.txt,.xlsx,.jsonl,.ndjson" onChange={(files) => look.mutate(files)}>
          {(open) => (
            <Button {...open} variant="filled" loading={look.isPending}>
              Choose files
            </Button>
          )}
        </FileButton>
        <span className="dim">or drop them here: one of each sort, as the system writes them. CSV, XLSX or JSON Lines</span>
      </fieldset>
      {look.data?.map((refused, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: refusals have no other name than their place
        <Failed key={i} error={refused} />
      ))}
    </section>
  )
}

function Seconds(props: { label: string; at: number; set: (to: number) => void }) {
  return (
    <NumberInput label={props.label} size="xs" w={160} min={0} max={3600} value={props.at} onChange={(to) => props.set(Number(to) || 0)} />
  )
}

function Folders(props: { kept: KeptDescription<FileDescription>; secret: Secret; setSecret: (secret: Secret) => void }) {
  const { description, set } = props.kept
  return (
    <section className="sheet pad stack" aria-label="Where they lie">
      <h2>Where they lie</h2>
      <div className="row wrap" style={{ alignItems: 'end' }}>
        <TextInput
          label="Its folder, or sftp://server/folder"
          size="xs"
          w={320}
          classNames={{ input: 'mono' }}
          placeholder={withFolder(description).address}
          value={description.address}
          onChange={(e) => {
            const address = e.currentTarget.value
            set((d) => ({ ...d, address }))
          }}
        />
        <Place label="It writes into" at={description.out} set={(out) => set((d) => ({ ...d, out: out ?? '' }))} />
        <Place label="What was read goes to" at={description.archive} set={(archive) => set((d) => ({ ...d, archive: archive ?? '' }))} />
        <Place label="It takes from" unsaid="it takes nothing" at={description.in} set={(to) => set((d) => ({ ...d, in: to }))} />
        <Seconds
          label="A file is complete after, s"
          at={description.settleSeconds ?? 2}
          set={(settleSeconds) => set((d) => ({ ...d, settleSeconds }))}
        />
        <Seconds
          label="It answers within, s"
          at={description.answerSeconds ?? 60}
          set={(answerSeconds) => set((d) => ({ ...d, answerSeconds }))}
        />
      </div>
      {isServer(description.address) && <ServerSignIn secret={props.secret} setSecret={props.setSecret} />}
      <span className="dim small">
        {isServer(description.address)
          ? 'On the server, known again by the host key that it shows the first time; what is missing is made when it is added.'
          : 'All within the folder that Narbit was started with for files; what is missing is made when the system is added.'}
      </span>
    </section>
  )
}
