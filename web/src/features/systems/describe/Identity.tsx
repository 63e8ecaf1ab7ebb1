import { Button, NumberInput, Select, TextInput } from '@mantine/core'
import { useMutation } from '@tanstack/react-query'
import { api, take } from '../../../shared/api'
import { Failed } from '../../../shared/states'
import { complete, credentialOf } from './actions'
import { asText, type Described, type Description, shortOf } from './description'
import type { KeptDescription } from './keptDescription'
import type { Secret } from './SignIn'
import { systemKinds } from './words'

/** What it is called and what it bears, a test of all of it, and what keeps it. */
export function Identity<D extends Described>(props: {
  kept: KeptDescription<D>
  secret: Secret
  isNew: boolean
  manners?: React.ReactNode
  children: React.ReactNode
  act: React.ReactNode
}) {
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
          onChange={(kind) => set((d) => ({ ...d, kind: kind as D['kind'] }))}
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
        {props.manners}
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
export function Manners({ description, set }: Pick<KeptDescription<Description>, 'description' | 'set'>) {
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
