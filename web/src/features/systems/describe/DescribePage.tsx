import { Button, NumberInput, SegmentedControl, Select, Switch, Textarea, TextInput } from '@mantine/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Link, useNavigate, useParams } from '@tanstack/react-router'
import { useState } from 'react'
import { api, type Schemas, take } from '../../../shared/api'
import { Empty, Failed, Loaded } from '../../../shared/states'
import { complete, credentialOf, evidenceIn } from './actions'
import { asText, type Description, fromText, isCalled, type Resource, shortOf, withResource } from './description'
import { type Kept, type KeptDescription, useKeptDescription } from './keptDescription'
import { ListSheet } from './ListSheet'
import { type Secret, SignIn } from './SignIn'
import { Source } from './Source'
import { systemKinds } from './words'

/** A system that nobody has described yet: what is known of it is put together here, tried at each step, and added. */
export function DescribePage() {
  const systems = useQuery({ queryKey: ['systems'], queryFn: () => take(api.GET('/api/systems')) })
  return <Loaded of={systems}>{(all) => <New needsHub={!all.some((s) => s.isHub)} />}</Loaded>
}

function New({ needsHub }: { needsHub: boolean }) {
  const kept = useKeptDescription()
  return (
    <Workbench
      kept={kept}
      title="A system of your own"
      beside={<Button onClick={kept.forget}>Begin anew</Button>}
      keep={(secret) => <Add kept={kept} secret={secret} needsHub={needsHub} />}
    />
  )
}

/** The description of a connected system, tried anew before it is saved. */
export function EditDescriptionPage() {
  const { system: id } = useParams({ from: '/systems/$system/describe' })
  const systems = useQuery({ queryKey: ['systems'], queryFn: () => take(api.GET('/api/systems')) })
  const document = useQuery({
    queryKey: ['systems', id, 'document'],
    queryFn: () => take(api.GET('/api/systems/{id}/document', { params: { path: { id } }, parseAs: 'text' })),
  })
  return (
    <Loaded of={systems}>
      {(all) => {
        const system = all.find((s) => s.id === id)
        if (!system) return <Empty title="There is no such system">It may have been renamed.</Empty>
        return <Loaded of={document}>{(text) => <Edit key={system.revision} system={system} document={fromText(text as string)} />}</Loaded>
      }}
    </Loaded>
  )
}

function Edit({ system, document }: { system: Schemas['SystemSummary']; document: Description | string }) {
  const begun = typeof document === 'string' ? null : { id: system.id, description: { ...document, address: system.address }, evidence: {} }
  if (!begun || !isCalled(begun.description))
    return <Empty title="This system is reached by files">Its description is edited as text, under Connection.</Empty>
  return <EditFrom system={system} begun={begun} />
}

function EditFrom({ system, begun }: { system: Schemas['SystemSummary']; begun: Kept }) {
  const kept = useKeptDescription(begun)
  return (
    <Workbench
      kept={kept}
      title={`How ${system.name} works`}
      beside={<Button renderRoot={(p) => <Link {...p} to="/systems/$system" params={{ system: system.id }} />}>Leave it as it is</Button>}
      keep={(secret) => <Save kept={kept} secret={secret} system={system} />}
    />
  )
}

function Workbench(props: { kept: KeptDescription; title: string; beside: React.ReactNode; keep: (secret: Secret) => React.ReactNode }) {
  const { kept } = props
  const { description, set } = kept
  const [view, setView] = useState<'form' | 'text'>('form')
  const [secret, setSecret] = useState<Secret>({ user: '', secret: '' })
  const [remarks, setRemarks] = useState<Record<string, string[]>>({})

  const takeList = (proposal: Schemas['ResourceProposal']) => {
    kept.learn(evidenceIn(proposal))
    setRemarks((r) => ({ ...r, [proposal.resource.kind]: proposal.remarks }))
    set((d) => ({ ...withResource(d, proposal.resource), replies: proposal.replies }))
  }
  const takeContract = (proposal: Schemas['ContractProposal']) => {
    const first = proposal.resources.filter(
      (r, i) => proposal.resources.findIndex((other) => other.resource.kind === r.resource.kind) === i,
    )
    kept.learn(Object.assign({}, ...first.map(evidenceIn)))
    setRemarks(Object.fromEntries(first.map((r) => [r.resource.kind, r.remarks])))
    const name = description.name || (proposal.name ?? '')
    if (!kept.id) kept.setId(shortOf(name).id)
    set((d) => ({
      ...d,
      name,
      mark: d.mark || shortOf(name).mark,
      address: d.address || (proposal.address ?? ''),
      authentication: proposal.authentication,
      test: proposal.testPath ? { path: proposal.testPath } : null,
      resources: first.map((r) => r.resource),
    }))
  }
  return (
    <div className="page">
      <div className="page-head">
        <h1>{props.title}</h1>
        <span className="dim">nothing of what is proposed counts before you have seen it</span>
        <span className="grow" />
        <SegmentedControl
          aria-label="How it is shown"
          size="xs"
          value={view}
          onChange={(to) => setView(to as 'form' | 'text')}
          data={[
            { value: 'form', label: 'Form' },
            { value: 'text', label: 'As text' },
          ]}
        />
        {props.beside}
      </div>
      {view === 'text' || !isCalled(description) ? (
        <AsText description={description} set={(d) => set(() => d)} />
      ) : (
        <>
          <Where description={description} secret={secret} setSecret={setSecret} set={set} />
          <Source description={description} secret={secret} takeList={takeList} takeContract={takeContract} />
          {description.resources.map((resource, i) => (
            <ListSheet
              // biome-ignore lint/suspicious/noArrayIndexKey: a list is told by its place while its kind is being chosen
              key={i}
              description={description}
              secret={secret}
              resource={resource}
              evidence={kept.evidence}
              remarks={remarks[resource.kind]}
              learn={kept.learn}
              set={(to) => set((d) => ({ ...d, resources: replaced(d.resources, i, to) }))}
              remove={() => set((d) => ({ ...d, resources: d.resources.filter((_, at) => at !== i) }))}
            />
          ))}
        </>
      )}
      {props.keep(secret)}
    </div>
  )
}

const replaced = (resources: Resource[], at: number, to: Resource) => resources.map((r, i) => (i === at ? to : r))

function Where(props: {
  description: Description
  secret: Secret
  setSecret: (secret: Secret) => void
  set: (change: (description: Description) => Description) => void
}) {
  const { description, set } = props
  return (
    <section className="sheet pad stack" aria-label="Where it is">
      <h2>Where it is</h2>
      <div className="field-grid">
        <label htmlFor="system-address">Address</label>
        <TextInput
          id="system-address"
          placeholder="https://shop.example/api/"
          value={description.address}
          onChange={(e) => {
            const address = e.currentTarget.value
            set((d) => ({ ...d, address }))
          }}
        />
        <SignIn
          way={description.authentication}
          secret={props.secret}
          setSecret={props.setSecret}
          set={(authentication) => set((d) => ({ ...d, authentication }))}
        />
      </div>
    </section>
  )
}

function AsText({ description, set }: { description: Description; set: (description: Description) => void }) {
  const [text, setText] = useState(asText(description))
  const read = fromText(text)
  return (
    <section className="sheet pad stack" aria-label="The description as text">
      <Textarea
        label="Description"
        description="the same as the form says; docs/connect.md explains every part"
        autosize
        minRows={16}
        maxRows={30}
        classNames={{ input: 'mono' }}
        error={typeof read === 'string' ? `It is not JSON yet, and the form stays as it was: ${read}` : undefined}
        value={text}
        onChange={(e) => {
          setText(e.currentTarget.value)
          const now = fromText(e.currentTarget.value)
          if (typeof now !== 'string') set(now)
        }}
      />
      <a href="/api/schemas/rest-system.json" className="act">
        Its JSON Schema
      </a>
    </section>
  )
}

/** What it is called and what it bears, a test of all of it, and what keeps it. */
function Identity(props: { kept: KeptDescription; secret: Secret; isNew: boolean; children: React.ReactNode; act: React.ReactNode }) {
  const { kept, secret } = props
  const { description, set } = kept
  const test = useMutation({
    mutationFn: () =>
      take(
        api.POST('/api/systems/test', {
          body: { document: asText(complete(description)), address: description.address, credential: credentialOf(secret) },
        }),
      ),
  })
  const named = (name: string) => {
    const before = shortOf(description.name)
    const now = shortOf(name)
    if (kept.id === before.id || !kept.id) kept.setId(now.id)
    set((d) => ({ ...d, name, mark: d.mark === before.mark || !d.mark ? now.mark : d.mark }))
  }
  return (
    <section className="sheet pad stack" aria-label="What it is">
      <h2>What it is</h2>
      <div className="row wrap" style={{ alignItems: 'end' }}>
        <TextInput label="Name" w={240} value={description.name} onChange={(e) => named(e.currentTarget.value)} />
        {props.isNew && <TextInput label="Short name" w={160} value={kept.id} onChange={(e) => kept.setId(e.currentTarget.value)} />}
        <TextInput
          label="Two letters"
          w={90}
          maxLength={2}
          value={description.mark}
          onChange={(e) => {
            const mark = e.currentTarget.value.toUpperCase()
            set((d) => ({ ...d, mark }))
          }}
        />
        <Select
          label="Kind"
          w={150}
          allowDeselect={false}
          data={systemKinds}
          value={description.kind}
          onChange={(kind) => set((d) => ({ ...d, kind: kind as Description['kind'] }))}
        />
        <TextInput
          label="Currency"
          w={90}
          maxLength={3}
          value={description.currency}
          onChange={(e) => {
            const currency = e.currentTarget.value.toUpperCase()
            set((d) => ({ ...d, currency }))
          }}
        />
        {isCalled(description) && <Manners description={description} set={set} />}
      </div>
      {props.children}
      {test.data && (
        <div className={`note ${test.data.ok ? 'glaze' : 'harm'}`} role="status">
          {test.data.message}
        </div>
      )}
      {test.isError && <Failed error={test.error} />}
      <div className="row">
        <Button loading={test.isPending} onClick={() => test.mutate()}>
          Test all of it
        </Button>
        {props.act}
      </div>
    </section>
  )
}

/** What a system that is called can bear, and how it says that something failed. */
function Manners({ description, set }: Pick<KeptDescription, 'description' | 'set'>) {
  return (
    <>
      <NumberInput
        label="Requests a second"
        w={140}
        min={0.1}
        max={1000}
        value={description.limits?.requestsPerSecond ?? 10}
        onChange={(rate) => set((d) => ({ ...d, limits: { ...d.limits, requestsPerSecond: Number(rate) || 1 } }))}
      />
      <TextInput
        label="A call that shows it answers"
        w={220}
        placeholder="its lists do"
        classNames={{ input: 'mono' }}
        value={description.test?.path ?? ''}
        onChange={(e) => {
          const path = e.currentTarget.value
          set((d) => ({ ...d, test: path ? { ...d.test, path } : null }))
        }}
      />
      <TextInput
        label="A refusal keeps its words at"
        w={220}
        placeholder="not known"
        classNames={{ input: 'mono' }}
        value={description.errorPaths?.join(', ') ?? ''}
        onChange={(e) => {
          const paths = e.currentTarget.value.split(/[,\s]+/).filter(Boolean)
          set((d) => ({ ...d, errorPaths: paths }))
        }}
      />
      <TextInput
        label="A reply has failed if it has"
        w={220}
        placeholder="its status says so"
        classNames={{ input: 'mono' }}
        value={description.failurePaths?.join(', ') ?? ''}
        onChange={(e) => {
          const paths = e.currentTarget.value.split(/[,\s]+/).filter(Boolean)
          set((d) => ({ ...d, failurePaths: paths }))
        }}
      />
    </>
  )
}

const documentOf = (description: Description) => asText({ ...complete(description), name: description.name, mark: description.mark })

function Add({ kept, secret, needsHub }: { kept: KeptDescription; secret: Secret; needsHub: boolean }) {
  const { description } = kept
  const queries = useQueryClient()
  const navigate = useNavigate()
  const [mayWrite, setMayWrite] = useState(false)
  const [isHub, setIsHub] = useState(needsHub)
  const add = useMutation({
    mutationFn: () =>
      take(
        api.POST('/api/systems', {
          body: {
            id: kept.id,
            document: documentOf(description),
            address: description.address,
            credential: credentialOf(secret),
            mayRead: true,
            mayWrite,
            isHub,
          },
        }),
      ),
    onSuccess: () => {
      kept.forget()
      void queries.invalidateQueries()
      void navigate({ to: '/systems' })
    },
  })
  return (
    <Identity
      kept={kept}
      secret={secret}
      isNew
      act={
        <Button
          variant="filled"
          loading={add.isPending}
          disabled={!kept.id || !description.name || description.resources.length === 0}
          onClick={() => add.mutate()}
        >
          Add it
        </Button>
      }
    >
      {needsHub && (
        <Switch
          label="It is the hub: the others are kept in step with it"
          checked={isHub}
          onChange={(e) => setIsHub(e.currentTarget.checked)}
        />
      )}
      <Switch label="Narbit may write to it" checked={mayWrite} onChange={(e) => setMayWrite(e.currentTarget.checked)} />
      {add.isError && <Failed error={add.error} />}
    </Identity>
  )
}

function Save({ kept, secret, system }: { kept: KeptDescription; secret: Secret; system: Schemas['SystemSummary'] }) {
  const { description } = kept
  const queries = useQueryClient()
  const navigate = useNavigate()
  const save = useMutation({
    mutationFn: () =>
      take(
        api.PUT('/api/systems/{id}', {
          params: { path: { id: system.id } },
          body: {
            revision: system.revision,
            address: description.address,
            credential: credentialOf(secret),
            mayRead: system.mayRead,
            mayWrite: system.mayWrite,
            document: documentOf(description),
          },
        }),
      ),
    onSuccess: () => {
      void queries.invalidateQueries()
      void navigate({ to: '/systems/$system', params: { system: system.id }, search: { tab: 'fields' } })
    },
  })
  return (
    <Identity
      kept={kept}
      secret={secret}
      isNew={false}
      act={
        <Button variant="filled" loading={save.isPending} disabled={!description.name} onClick={() => save.mutate()}>
          Save it
        </Button>
      }
    >
      <span className="dim small">
        {system.hasCredential ? 'Its credentials stay as they are unless you enter others; here they are needed to try things. ' : ''}
        What is in the mirror is understood anew with the next full reading.
      </span>
      {save.isError && <Failed error={save.error} />}
    </Identity>
  )
}
