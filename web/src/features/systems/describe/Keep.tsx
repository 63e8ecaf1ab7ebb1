import { Button, Switch } from '@mantine/core'
import { useMutation } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { useState } from 'react'
import { api, type Schemas, take } from '../../../shared/api'
import { useRenew } from '../../../shared/queries'
import { Failed } from '../../../shared/states'
import { complete, credentialOf } from './actions'
import { asText, type Described } from './description'
import { EffectOf } from './Effect'
import { Identity } from './Identity'
import type { KeptDescription } from './keptDescription'
import type { Secret } from './SignIn'

const documentOf = (description: Described) => asText({ ...complete(description), name: description.name, mark: description.mark })

type Keeping<D extends Described> = { kept: KeptDescription<D>; secret: Secret; manners?: React.ReactNode }

/** Adds the system; what is to be done with it at once comes after. */
export function Add<D extends Described>(props: Keeping<D> & { needsHub: boolean; after?: (id: string) => Promise<unknown> }) {
  const { kept, secret, needsHub } = props
  const { description } = kept
  const renew = useRenew()
  const navigate = useNavigate()
  const [mayWrite, setMayWrite] = useState(false)
  const [isHub, setIsHub] = useState(needsHub)
  const add = useMutation({
    mutationFn: async () => {
      await take(
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
      )
      await props.after?.(kept.id)
    },
    onSuccess: () => {
      kept.forget()
      void renew()
      void navigate({ to: '/systems' })
    },
  })
  return (
    <Identity
      kept={kept}
      secret={secret}
      isNew
      manners={props.manners}
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

/** Saves the description of a connected system. */
export function Save<D extends Described>(props: Keeping<D> & { system: Schemas['SystemSummary'] }) {
  const { kept, secret, system } = props
  const { description } = kept
  const renew = useRenew()
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
      void renew()
      void navigate({ to: '/systems/$system', params: { system: system.id }, search: { tab: 'fields' } })
    },
  })
  return (
    <Identity
      kept={kept}
      secret={secret}
      isNew={false}
      manners={props.manners}
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
      <EffectOf system={system.id} document={documentOf(description)} address={description.address} />
    </Identity>
  )
}
