import { Button, SegmentedControl } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from '@tanstack/react-router'
import { useState } from 'react'
import type { Schemas } from '../../../shared/api'
import { queries } from '../../../shared/queries'
import { Empty, Loaded } from '../../../shared/states'
import { useView } from '../../../shared/useView'
import { CalledForm } from './CalledForm'
import { blank, type Description, fromText, isCalled } from './description'
import { FilesForm } from './files/FilesForm'
import { blankFiles, type FileDescription, withFolder } from './files/fileDescription'
import { useBrought } from './files/useBrought'
import { Manners } from './Identity'
import { Add, Save } from './Keep'
import { useKeptDescription } from './keptDescription'
import type { Secret } from './SignIn'
import { Workbench } from './Workbench'

const schemas = { called: '/api/schemas/rest-system.json', files: '/api/schemas/file-system.json' }
const nobody: Secret = { user: '', secret: '' }

/** A system that nobody has described yet: what is known of it is put together here, tried at each step, and added. */
export function DescribePage() {
  const [{ show }] = useView('/systems/new')
  const systems = useQuery(queries.systems())
  const workspace = useQuery(queries.workspace())
  const New = show === 'files' ? NewByFiles : NewCalled
  return (
    <Loaded of={systems}>
      {(all) => (
        <Loaded of={workspace}>
          {({ settings }) => <New needsHub={!all.some((s) => s.isHub)} currency={settings?.currency ?? blank.currency} />}
        </Loaded>
      )}
    </Loaded>
  )
}

function Reached({ by, forget }: { by: 'called' | 'files'; forget: () => void }) {
  const [, set] = useView('/systems/new')
  return (
    <>
      <SegmentedControl
        aria-label="How it is reached"
        size="xs"
        value={by}
        onChange={(to) => set({ show: to === 'files' ? to : undefined })}
        data={[
          { value: 'called', label: 'It is called' },
          { value: 'files', label: 'By files' },
        ]}
      />
      <Button onClick={forget}>Begin anew</Button>
    </>
  )
}

type New = { needsHub: boolean; currency: string }

function NewCalled({ needsHub, currency }: New) {
  const kept = useKeptDescription<Description>({ id: '', description: { ...blank, currency }, evidence: {} }, 'narbit.describing')
  const [secret, setSecret] = useState(nobody)
  return (
    <Workbench
      kept={kept}
      title="A system of your own"
      schema={schemas.called}
      beside={<Reached by="called" forget={kept.forget} />}
      form={<CalledForm kept={kept} secret={secret} setSecret={setSecret} />}
      keep={<Add kept={kept} secret={secret} needsHub={needsHub} manners={<Manners description={kept.description} set={kept.set} />} />}
    />
  )
}

function NewByFiles({ needsHub, currency }: New) {
  const kept = useKeptDescription<FileDescription>(
    { id: '', description: { ...blankFiles, currency }, evidence: {} },
    'narbit.describing.files',
  )
  const brought = useBrought()
  const [secret, setSecret] = useState(nobody)
  const placed = { ...kept, description: withFolder(kept.description) }
  return (
    <Workbench
      kept={kept}
      title="A system of your own"
      schema={schemas.files}
      beside={<Reached by="files" forget={kept.forget} />}
      form={<FilesForm kept={kept} brought={brought} secret={secret} setSecret={setSecret} />}
      keep={<Add kept={placed} secret={secret} needsHub={needsHub} after={(id) => brought.deliver(id, kept.description)} />}
    />
  )
}

/** The description of a connected system, tried anew before it is saved. */
export function EditDescriptionPage() {
  const { system: id } = useParams({ from: '/systems/$system/describe' })
  const systems = useQuery(queries.systems())
  const [{ row: version }] = useView('/systems/$system/describe')
  const document = useQuery(queries.description(id, undefined, version ? Number(version) : undefined))
  return (
    <Loaded of={systems}>
      {(all) => {
        const system = all.find((s) => s.id === id)
        if (!system) return <Empty title="There is no such system">It may have been renamed.</Empty>
        return (
          <Loaded of={document}>
            {(text) => <Edit key={`${system.revision} ${version ?? ''}`} system={system} document={fromText(text as string)} />}
          </Loaded>
        )
      }}
    </Loaded>
  )
}

type System = Schemas['SystemSummary']

function Edit({ system, document }: { system: System; document: Description | string }) {
  if (typeof document === 'string') return <Empty title="Its description cannot be read">{document}</Empty>
  const description = { ...document, address: system.address }
  return isCalled(description) ? (
    <EditCalled system={system} description={description} />
  ) : (
    <EditFiles system={system} description={description as unknown as FileDescription} />
  )
}

const Leave = ({ system }: { system: System }) => (
  <Button renderRoot={(p) => <Link {...p} to="/systems/$system" params={{ system: system.id }} />}>Leave it as it is</Button>
)

function EditCalled({ system, description }: { system: System; description: Description }) {
  const kept = useKeptDescription({ id: system.id, description, evidence: {} })
  const [secret, setSecret] = useState(nobody)
  return (
    <Workbench
      kept={kept}
      title={`How ${system.name} works`}
      schema={schemas.called}
      beside={<Leave system={system} />}
      form={<CalledForm kept={kept} secret={secret} setSecret={setSecret} />}
      keep={<Save kept={kept} secret={secret} system={system} manners={<Manners description={kept.description} set={kept.set} />} />}
    />
  )
}

function EditFiles({ system, description }: { system: System; description: FileDescription }) {
  const kept = useKeptDescription({ id: system.id, description, evidence: {} })
  const brought = useBrought()
  const [secret, setSecret] = useState(nobody)
  return (
    <Workbench
      kept={kept}
      title={`How ${system.name} works`}
      schema={schemas.files}
      beside={<Leave system={system} />}
      form={<FilesForm kept={kept} brought={brought} secret={secret} setSecret={setSecret} />}
      keep={<Save kept={kept} secret={secret} system={system} />}
    />
  )
}
