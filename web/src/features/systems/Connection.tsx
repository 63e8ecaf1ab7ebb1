import { Button, JsonInput, PasswordInput, Switch, TextInput } from '@mantine/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, take } from '../../shared/api'
import { count, when } from '../../shared/format'
import { queries, useRenew } from '../../shared/queries'
import { Failed, Loaded } from '../../shared/states'
import { credentialOf } from './describe/actions'
import { GrantAccess } from './describe/GrantAccess'
import { isServer, named, ServerSignIn, signInWords } from './describe/SignIn'
import type { System } from './SystemsPage'

/** Where a system is, how it is signed in to, and what else holds for it. */
export function Connection({ system }: { system: System }) {
  const document = useQuery(queries.description(system.id, system.revision))
  return <Loaded of={document}>{(text) => <ConnectionFields system={system} described={text as string} />}</Loaded>
}

function ConnectionFields({ system, described }: { system: System; described: string }) {
  const renew = useRenew()
  const [document, setDocument] = useState(described)
  const [address, setAddress] = useState(system.address)
  const [secret, setSecret] = useState({ user: '', secret: '' })
  const [endsOn, setEndsOn] = useState(system.credentialEndsOn ?? '')
  const [mayRead, setMayRead] = useState(system.mayRead)
  const [mayWrite, setMayWrite] = useState(system.mayWrite)
  const [readsWholeDaily, setReadsWholeDaily] = useState(system.readsWholeDaily)
  const save = useMutation({
    mutationFn: () =>
      take(
        api.PUT('/api/systems/{id}', {
          params: { path: { id: system.id } },
          body: {
            revision: system.revision,
            address,
            credential: credentialOf(secret),
            mayRead,
            mayWrite,
            readsWholeDaily,
            document,
            credentialEndsOn: endsOn,
          },
        }),
      ),
    onSuccess: () => void renew('systems'),
  })
  return (
    <section className="sheet pad stack" style={{ maxWidth: 720 }}>
      <TextInput label={system.byFiles ? 'Folder' : 'Address'} value={address} onChange={(e) => setAddress(e.currentTarget.value)} />
      {!system.byFiles && (
        <>
          <div className="dim small">
            It signs callers in by {signInWords(system.signsInWith)}.{' '}
            {system.hasCredential
              ? `Credentials were entered ${when(system.credentialSetAt)} and are not shown again.`
              : 'No credentials are stored.'}
          </div>
          <div className="row" style={{ alignItems: 'end' }}>
            {named.includes(system.signsInWith) && (
              <TextInput
                label={system.signsInWith === 'basic' ? 'New user' : 'New client'}
                value={secret.user}
                onChange={(e) => setSecret({ ...secret, user: e.currentTarget.value })}
              />
            )}
            <PasswordInput
              className="grow"
              label="New password, key or token"
              description="empty: stays as it is"
              value={secret.secret}
              onChange={(e) => setSecret({ ...secret, secret: e.currentTarget.value })}
            />
            <TextInput
              type="date"
              label="Holds until"
              description="empty: no end is known"
              value={endsOn}
              onChange={(e) => setEndsOn(e.currentTarget.value)}
            />
          </div>
          <div className="dim small">Two weeks before that day the mismatch desk says so.</div>
        </>
      )}
      {system.signsInWith === 'authorizationcode' && <Granted system={system} />}
      {isServer(address) && (
        <>
          <ServerSignIn secret={secret} setSecret={setSecret} kept={system.hasCredential} />
          <HostKey system={system} />
        </>
      )}
      <JsonInput
        label="Description"
        description="how its interface works; docs/connect.md explains every part"
        value={document}
        onChange={setDocument}
        minRows={6}
        maxRows={16}
        autosize
        styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)', fontSize: 12 } }}
      />
      <Switch label="Narbit may read it" checked={mayRead} onChange={(e) => setMayRead(e.currentTarget.checked)} />
      <Switch label="Narbit may write to it" checked={mayWrite} onChange={(e) => setMayWrite(e.currentTarget.checked)} />
      <Switch
        label="Read it as a whole once a day"
        description="finds what its list of changes leaves out, and what is gone"
        checked={readsWholeDaily}
        onChange={(e) => setReadsWholeDaily(e.currentTarget.checked)}
      />
      <div className="dim small">
        {system.byFiles ? 'Read as files' : `At most ${count(system.requestsPerSecond)} requests a second`}
        {system.batchSize > 0 ? `, ${count(system.batchSize)} records in a write` : ', read only by its description'}.
      </div>
      {save.isError && <Failed error={save.error} />}
      <div>
        <Button variant="filled" loading={save.isPending} onClick={() => save.mutate()}>
          Save the connection
        </Button>
      </div>
    </section>
  )
}

/** The key by which the system's server is known again. */
function HostKey({ system }: { system: System }) {
  const renew = useRenew()
  const forget = useMutation({
    mutationFn: () => take(api.DELETE('/api/systems/{id}/host-key', { params: { path: { id: system.id } } })),
    onSuccess: () => void renew('systems'),
  })
  if (!system.hostKey)
    return <span className="dim small">Its server was not met yet; the host key that it shows first counts from then on.</span>
  return (
    <div className="row wrap">
      <span className="small">
        Known by the host key <span className="mono">SHA256:{system.hostKey}</span>
      </span>
      <button type="button" className="act" disabled={forget.isPending} onClick={() => forget.mutate()}>
        Forget it: the server was set up anew
      </button>
      {forget.isError && <Failed error={forget.error} />}
    </div>
  )
}

/** What a person has granted at the system, and how it is granted again. */
function Granted({ system }: { system: System }) {
  const renew = useRenew()
  return (
    <div className="stack">
      {system.grantLostWhy && (
        <div className="note harm" role="alert">
          <span>
            The access that was granted {when(system.grantedAt)} counts no more: {system.grantLostWhy}
          </span>
        </div>
      )}
      <GrantAccess
        standing={system.grantedAt && !system.grantLostWhy ? 'granted' : 'not granted'}
        ask={() => take(api.POST('/api/systems/{id}/grant', { params: { path: { id: system.id } } }))}
        given={() => void renew('systems')}
      />
    </div>
  )
}
