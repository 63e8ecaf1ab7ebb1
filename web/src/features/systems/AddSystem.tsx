import { Button, JsonInput, PasswordInput, Switch, TextInput } from '@mantine/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, take } from '../../shared/api'
import { Dialog } from '../../shared/Dialog'
import { Failed } from '../../shared/states'

const starter = JSON.stringify(
  {
    format: 'narbit/rest-system/1',
    name: 'Name of the system',
    kind: 'webStore',
    mark: 'XX',
    currency: 'EUR',
    address: 'https://',
    authentication: { scheme: 'bearer' },
    test: { path: 'status' },
    resources: [
      {
        kind: 'item',
        label: 'products',
        list: { path: 'products', records: 'data' },
        key: 'id',
        fields: [{ name: 'sku', label: 'SKU', path: 'sku', type: 'text', role: 'sku' }],
      },
    ],
  },
  null,
  2,
)

/** A new system: its description, where it is, how to sign in, and a test before it is kept. */
export function AddSystem({ needsHub, close }: { needsHub: boolean; close: () => void }) {
  const queries = useQueryClient()
  const [id, setId] = useState('')
  const [document, setDocument] = useState(starter)
  const [address, setAddress] = useState('')
  const [user, setUser] = useState('')
  const [secret, setSecret] = useState('')
  const [mayWrite, setMayWrite] = useState(false)
  const [isHub, setIsHub] = useState(needsHub)
  const credential = secret ? { user: user || null, secret } : null
  const test = useMutation({
    mutationFn: () => take(api.POST('/api/systems/test', { body: { document, address: address || null, credential } })),
  })
  const add = useMutation({
    mutationFn: () =>
      take(
        api.POST('/api/systems', {
          body: { id, document, address: address || null, credential, mayRead: true, mayWrite, isHub },
        }),
      ),
    onSuccess: () => {
      void queries.invalidateQueries()
      close()
    },
  })
  return (
    <Dialog opened close={close} title="Add a system" wide>
      <div className="stack">
        <TextInput
          label="Short name"
          description="for addresses: small letters, digits, hyphens"
          value={id}
          onChange={(e) => setId(e.currentTarget.value)}
        />
        <JsonInput
          label="Description"
          description="how its interface works; docs/connect.md explains every part"
          value={document}
          onChange={setDocument}
          minRows={8}
          maxRows={14}
          autosize
          formatOnBlur
          styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)', fontSize: 12 } }}
        />
        <TextInput
          label="Address"
          description="where it differs from the description"
          value={address}
          onChange={(e) => setAddress(e.currentTarget.value)}
        />
        <div className="row" style={{ alignItems: 'end' }}>
          <TextInput label="User" description="if it asks for one" value={user} onChange={(e) => setUser(e.currentTarget.value)} />
          <PasswordInput
            className="grow"
            label="Password, key or token"
            description="kept encrypted, never shown again"
            value={secret}
            onChange={(e) => setSecret(e.currentTarget.value)}
          />
        </div>
        {needsHub && (
          <Switch
            label="It is the hub: the others are kept in step with it"
            checked={isHub}
            onChange={(e) => setIsHub(e.currentTarget.checked)}
          />
        )}
        <Switch label="Narbit may write to it" checked={mayWrite} onChange={(e) => setMayWrite(e.currentTarget.checked)} />
        {test.data && (
          <div className={`note ${test.data.ok ? 'glaze' : 'harm'}`} role="status">
            {test.data.message}
          </div>
        )}
        {test.isError && <Failed error={test.error} />}
        {add.isError && <Failed error={add.error} />}
        <div className="row">
          <Button loading={test.isPending} onClick={() => test.mutate()}>
            Test
          </Button>
          <span className="grow" />
          <Button onClick={close}>Cancel</Button>
          <Button variant="filled" loading={add.isPending} disabled={!id} onClick={() => add.mutate()}>
            Add
          </Button>
        </div>
      </div>
    </Dialog>
  )
}
