import { Button, NumberInput, PasswordInput, SegmentedControl, Select, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import { api, type Schemas, take } from '../../shared/api'
import { at, plural } from '../../shared/format'
import { harmWord } from '../../shared/harms'
import { Empty, Failed, Loaded } from '../../shared/states'

type Telling = Schemas['TellingView']
type Server = Schemas['MailServerSettings']

const useTelling = () => useQuery({ queryKey: ['telling'], queryFn: () => take(api.GET('/api/telling')) })

const blank = (): Server => ({
  host: '',
  port: 587,
  security: 'startTls',
  user: null,
  password: null,
  from: '',
  linksTo: window.location.origin,
  dailyAt: '07:00',
})

/** How people are told of what needs them: the server that takes mails, what each wishes, and what became of the last mails. */
export function TellingPage() {
  const telling = useTelling()
  return (
    <div className="page">
      <div className="page-head">
        <h1 className="row" style={{ gap: 10 }}>
          <Link to="/settings" className="act" style={{ fontSize: 15 }}>
            Settings
          </Link>
          <span className="dim" aria-hidden="true">
            ›
          </span>
          Being told
        </h1>
        <span className="dim">by mail, of what needs somebody</span>
      </div>
      <Loaded of={telling}>
        {(view) => (
          <>
            <Wishes view={view} />
            <MailServer key={JSON.stringify(view.server)} view={view} />
            <Mails mails={view.mails} />
          </>
        )}
      </Loaded>
    </div>
  )
}

function useChange<T>(change: (what: T) => Promise<unknown>, said: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: change,
    onSuccess: () => notifications.show({ color: 'var(--glaze)', message: said }),
    onSettled: () => void queries.invalidateQueries({ queryKey: ['telling'] }),
  })
}

const times = [
  { value: 'atOnce', label: 'at once' },
  { value: 'daily', label: 'once a day' },
  { value: 'never', label: 'not' },
]

function Wishes({ view }: { view: Telling }) {
  const keep = useChange((body: Schemas['WishView'][]) => take(api.PUT('/api/telling/wishes', { body })), 'Kept.')
  return (
    <section className="sheet" aria-label="What you are told of">
      <div className="sheet-head">
        <span className="grow">When {view.person} is told of what</span>
        <span className="dim" style={{ fontWeight: 400, fontSize: 14 }}>
          {view.mail ?? 'has no mail address yet: give one under Who works here'}
        </span>
      </div>
      {view.wishes.map((w) => (
        <div key={w.harm} className="line" style={{ gridTemplateColumns: '190px auto minmax(0, 1fr)', paddingBlock: 5 }}>
          <span className="strong">{harmWord(w.harm)}</span>
          <SegmentedControl
            aria-label={`Tell of ${harmWord(w.harm)}`}
            size="xs"
            data={times}
            value={w.when}
            onChange={(when) => keep.mutate(view.wishes.map((o) => (o.harm === w.harm ? { ...o, when: when as typeof o.when } : o)))}
          />
          <span />
        </div>
      ))}
      {keep.isError && <Failed error={keep.error} />}
    </section>
  )
}

function MailServer({ view }: { view: Telling }) {
  const [server, setServer] = useState<Server>({ ...(view.server ?? blank()), password: null })
  const set = (change: Partial<Server>) => setServer({ ...server, ...change })
  const save = useChange((body: Server) => take(api.PUT('/api/telling/server', { body })), 'The mail server is kept.')
  const test = useChange((body: Server) => take(api.POST('/api/telling/server/test', { body })), 'The server has taken a mail to you.')
  const remove = useChange(() => take(api.DELETE('/api/telling/server')), 'Nobody is told by mail any more.')
  return (
    <section className="sheet" aria-label="Mail server">
      <div className="sheet-head">
        <span className="grow">The server that takes mails</span>
        {view.server && (
          <Button size="xs" onClick={() => remove.mutate(undefined)}>
            Take it out
          </Button>
        )}
      </div>
      <div className="pad stack">
        <div className="row wrap" style={{ alignItems: 'flex-end' }}>
          <TextInput
            label="Mail server"
            placeholder="mail.example"
            w={250}
            value={server.host}
            onChange={(e) => set({ host: e.currentTarget.value })}
          />
          <NumberInput label="Port" w={100} hideControls value={server.port} onChange={(port) => set({ port: Number(port) })} />
          <Select
            label="Protected by"
            w={190}
            allowDeselect={false}
            data={[
              { value: 'startTls', label: 'STARTTLS (587)' },
              { value: 'tls', label: 'TLS (465)' },
              { value: 'none', label: 'nothing, on this machine' },
            ]}
            value={server.security}
            onChange={(security) => set({ security: security as Server['security'] })}
          />
          <TextInput
            label="User"
            placeholder="none"
            w={190}
            value={server.user ?? ''}
            onChange={(e) => set({ user: e.currentTarget.value || null })}
          />
          <PasswordInput
            label="Password"
            w={190}
            placeholder={view.server?.user ? 'kept; type to change it' : 'none'}
            value={server.password ?? ''}
            onChange={(e) => set({ password: e.currentTarget.value || null })}
          />
        </div>
        <div className="row wrap" style={{ alignItems: 'flex-end' }}>
          <TextInput label="Mails come from" w={250} value={server.from} onChange={(e) => set({ from: e.currentTarget.value })} />
          <TextInput
            label="Links in mails lead to"
            w={300}
            value={server.linksTo}
            onChange={(e) => set({ linksTo: e.currentTarget.value })}
          />
          <TextInput
            label="A day is summed up at"
            w={160}
            value={server.dailyAt}
            onChange={(e) => set({ dailyAt: e.currentTarget.value })}
          />
        </div>
        {(save.isError || test.isError) && <Failed error={save.error ?? test.error} />}
        <div className="row">
          <Button
            variant="filled"
            loading={save.isPending}
            onClick={() => {
              test.reset()
              save.mutate(server)
            }}
          >
            Save the mail server
          </Button>
          <Button
            loading={test.isPending}
            onClick={() => {
              save.reset()
              test.mutate(server)
            }}
          >
            Send me a test
          </Button>
          <span className="dim small">
            Mails say what and how many, never which record or who. Nothing is told twice within 15 minutes.
          </span>
        </div>
      </div>
    </section>
  )
}

function Mails({ mails }: { mails: Telling['mails'] }) {
  return (
    <section className="sheet" aria-label="The last mails">
      <div className="sheet-head">The last mails</div>
      {mails.length === 0 && <Empty title="No mail was made yet">The first one is made when something new needs somebody.</Empty>}
      {mails.map((m) => (
        <div key={m.id} className="line" style={{ gridTemplateColumns: '130px 120px minmax(0, 1fr) minmax(0, 1fr)' }}>
          <span className="dim">{at(m.madeAt)}</span>
          <span>{m.person}</span>
          <span className="clip">{m.subject}</span>
          <span>
            {m.sentAt ? (
              <span className="tag glaze">sent</span>
            ) : (
              <>
                <span className={`tag ${m.nextAt ? 'ochre' : 'harm'}`}>{m.nextAt ? 'waits' : 'given up'}</span> {m.fault}{' '}
                <span className="dim small">after {plural(m.tries, 'try', 'tries')}</span>
              </>
            )}
          </span>
        </div>
      ))}
    </section>
  )
}
