import { PasswordInput, Select, Switch, TextInput } from '@mantine/core'
import type { Schemas } from '../../../shared/api'

export type Secret = { user: string; secret: string }

type Way = Schemas['RestAuthentication']

const schemes: { value: NonNullable<Way['scheme']>; label: string }[] = [
  { value: 'none', label: 'nothing: it is open' },
  { value: 'basic', label: 'user and password' },
  { value: 'bearer', label: 'a token (bearer)' },
  { value: 'header', label: 'a key in a header' },
  { value: 'query', label: 'a key in the address' },
  { value: 'clientCredentials', label: 'tokens for a client (OAuth 2)' },
]

/** How callers sign in, and with what. */
export function SignIn(props: { way: Way; secret: Secret; set: (way: Way) => void; setSecret: (secret: Secret) => void }) {
  const { way, secret, set, setSecret } = props
  const named = way.scheme === 'basic' || way.scheme === 'clientCredentials'
  return (
    <>
      <label htmlFor="signs-in">Signs callers in by</label>
      <Select
        id="signs-in"
        w={320}
        allowDeselect={false}
        data={schemes}
        value={way.scheme ?? 'none'}
        onChange={(scheme) => set({ ...way, scheme: scheme as Way['scheme'] })}
      />
      {way.scheme === 'header' && (
        <>
          <label htmlFor="key-header">Header</label>
          <TextInput id="key-header" w={320} value={way.header ?? ''} onChange={(e) => set({ ...way, header: e.currentTarget.value })} />
        </>
      )}
      {way.scheme === 'query' && (
        <>
          <label htmlFor="key-parameter">Parameter</label>
          <TextInput
            id="key-parameter"
            w={320}
            value={way.parameter ?? ''}
            onChange={(e) => set({ ...way, parameter: e.currentTarget.value })}
          />
        </>
      )}
      {way.scheme === 'clientCredentials' && (
        <>
          <label htmlFor="token-at">Tokens are given at</label>
          <div className="row">
            <TextInput
              id="token-at"
              w={420}
              placeholder="path below the address, or an address of its own"
              value={way.token ?? ''}
              onChange={(e) => set({ ...way, token: e.currentTarget.value })}
            />
            <Switch
              label="name and secret in the body"
              checked={way.clientInBody ?? false}
              onChange={(e) => set({ ...way, clientInBody: e.currentTarget.checked })}
            />
          </div>
          <label htmlFor="token-scope">Scope</label>
          <TextInput id="token-scope" w={320} value={way.scope ?? ''} onChange={(e) => set({ ...way, scope: e.currentTarget.value })} />
        </>
      )}
      {named && (
        <>
          <label htmlFor="sign-user">{way.scheme === 'basic' ? 'User' : 'Client'}</label>
          <TextInput id="sign-user" w={320} value={secret.user} onChange={(e) => setSecret({ ...secret, user: e.currentTarget.value })} />
        </>
      )}
      {way.scheme && way.scheme !== 'none' && (
        <>
          <label htmlFor="sign-secret">{way.scheme === 'basic' ? 'Password' : named ? 'Secret' : 'Key or token'}</label>
          <PasswordInput
            id="sign-secret"
            w={320}
            description="kept encrypted once it is added, never shown again"
            value={secret.secret}
            onChange={(e) => setSecret({ ...secret, secret: e.currentTarget.value })}
          />
        </>
      )}
    </>
  )
}
