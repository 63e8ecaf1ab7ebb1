import { Button, NumberInput, PasswordInput, SegmentedControl, Select, Switch, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import { api, type Schemas, take } from '../../shared/api'
import { at, plural } from '../../shared/format'
import { harmWord } from '../../shared/harms'
import { queries, useRenew } from '../../shared/queries'
import { Empty, Failed, Loaded } from '../../shared/states'

type Telling = Schemas['TellingView']
type Server = Schemas['MailServerSettings']

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
  const telling = useQuery(queries.telling())
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
        <span className="dim">by mail, webhook or feed, of what needs somebody</span>
      </div>
      <Loaded of={telling}>
        {(view) => (
          <>
            <Wishes view={view} />
            <MailServer key={JSON.stringify(view.server)} view={view} />
            <Mails mails={view.mails} />
            <Listeners listeners={view.listeners} />
          </>
        )}
      </Loaded>
    </div>
  )
}

function useChange<T>(change: (what: T) => Promise<unknown>, said: string) {
  const renew = useRenew()
  return useMutation({
    mutationFn: change,
    onSuccess: () => notifications.show({ color: 'var(--glaze)', message: said }),
    onSettled: () => void renew('telling'),
  })
}

const times = [
  { value: 'atOnce', label: 'at once' },
  { value: 'daily', label: 'once a day' },
  { value: 'never', label: 'not' },
]

type Wish = Schemas['WishView']

const same = (a: Wish, b: Wish) => a.harm === b.harm && a.cause === b.cause

function Wishes({ view }: { view: Telling }) {
  const keep = useChange((body: Wish[]) => take(api.PUT('/api/telling/wishes', { body })), 'Kept.')
  const set = (wish: Wish) =>
    keep.mutate([...view.wishes.map((o) => (same(o, wish) ? wish : o)), ...(view.wishes.some((o) => same(o, wish)) ? [] : [wish])])
  return (
    <section className="sheet" aria-label="What you are told of">
      <div className="sheet-head">
        <span className="grow">When {view.person} is told of what</span>
        <span className="dim" style={{ fontWeight: 400, fontSize: 14 }}>
          {view.mail ?? 'has no mail address yet: give one under Who works here'}
        </span>
      </div>
      {view.wishes.map((w) => (
        <div
          key={`${w.harm} ${w.cause ?? ''}`}
          className="line"
          style={{ gridTemplateColumns: '210px auto minmax(0, 1fr)', paddingBlock: 5 }}
        >
          <span className={w.cause ? 'clip' : 'strong'} style={{ paddingLeft: w.cause ? 16 : 0 }} title={w.heading ?? undefined}>
            {w.heading ?? harmWord(w.harm)}
          </span>
          <SegmentedControl
            aria-label={`Tell of ${w.heading ?? harmWord(w.harm)}`}
            size="xs"
            data={times}
            value={w.when}
            onChange={(when) => set({ ...w, when: when as Wish['when'] })}
          />
          {w.cause ? (
            <button type="button" className="act" onClick={() => keep.mutate(view.wishes.filter((o) => !same(o, w)))}>
              as the others
            </button>
          ) : (
            <Apart view={view} wish={w} set={set} />
          )}
        </div>
      ))}
      {keep.isError && <Failed error={keep.error} />}
    </section>
  )
}

/** Lets one cause of a harm be told at another time than the others. */
function Apart({ view, wish, set }: { view: Telling; wish: Wish; set: (wish: Wish) => void }) {
  const free = view.causes.filter((c) => c.harm === wish.harm && !view.wishes.some((w) => w.cause === c.cause))
  if (free.length === 0) return <span />
  return (
    <Select
      size="xs"
      w={260}
      aria-label={`A cause of ${harmWord(wish.harm)} by itself`}
      placeholder="but one cause otherwise"
      searchable
      value={null}
      data={free.map((c) => ({ value: c.cause, label: c.heading }))}
      onChange={(cause) => cause && set({ harm: wish.harm, when: wish.when === 'never' ? 'daily' : 'never', cause, heading: null })}
    />
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

/** Other tools that are told, and the feed that they may read. */
function Listeners({ listeners }: { listeners: Telling['listeners'] }) {
  const blankTool = { name: '', address: '', onlyHarm: false, linksTo: window.location.origin }
  const [tool, setTool] = useState<Schemas['ListenerToAdd']>(blankTool)
  const [secret, setSecret] = useState<string>()
  const add = useChange(async (body: Schemas['ListenerToAdd']) => {
    setSecret((await take(api.POST('/api/telling/listeners', { body }))).secret)
    setTool(blankTool)
  }, 'It is told from now on.')
  const path = (id: number) => ({ params: { path: { id } } })
  const test = useChange((id: number) => take(api.POST('/api/telling/listeners/{id}/test', path(id))), 'It has taken a webhook.')
  const remove = useChange((id: number) => take(api.DELETE('/api/telling/listeners/{id}', path(id))), 'It is told no more.')
  return (
    <section className="sheet" aria-label="Other tools">
      <div className="sheet-head">
        <span className="grow">Other tools that are told by webhook</span>
        <a href="/feeds/mismatches.atom" style={{ fontSize: 14 }}>
          Atom feed
        </a>
      </div>
      {listeners.map((l) => (
        <div key={l.id} className="line" style={{ gridTemplateColumns: '160px minmax(0, 1fr) minmax(0, 1fr) auto' }}>
          <span className="strong clip">{l.name}</span>
          <span className="clip dim">{l.address}</span>
          <span>
            {l.fault ? (
              <>
                <span className={`tag ${l.waiting > 0 ? 'ochre' : 'harm'}`}>{l.waiting > 0 ? `${l.waiting} wait` : 'given up'}</span>{' '}
                {l.fault}
              </>
            ) : (
              <span className="dim">{l.sentAt ? `took the last one ${at(l.sentAt)}` : 'nothing was to be told yet'}</span>
            )}
            {l.onlyHarm && <span className="dim small"> · only of what does harm</span>}
          </span>
          <span className="row" style={{ gap: 6 }}>
            <Button size="xs" aria-label={`Send a test to ${l.name}`} onClick={() => test.mutate(l.id)}>
              Send a test
            </Button>
            <Button size="xs" aria-label={`Remove ${l.name}`} onClick={() => remove.mutate(l.id)}>
              Remove
            </Button>
          </span>
        </div>
      ))}
      <div className="pad stack">
        <form
          className="row wrap"
          style={{ alignItems: 'flex-end' }}
          onSubmit={(e) => {
            e.preventDefault()
            add.mutate(tool)
          }}
        >
          <TextInput
            label="Name of the tool"
            w={170}
            value={tool.name}
            onChange={(e) => setTool({ ...tool, name: e.currentTarget.value })}
          />
          <TextInput
            label="Address that listens"
            placeholder="https://tool.example/hooks"
            w={330}
            value={tool.address}
            onChange={(e) => setTool({ ...tool, address: e.currentTarget.value })}
          />
          <Switch
            label="only of what does harm"
            checked={tool.onlyHarm}
            onChange={(e) => setTool({ ...tool, onlyHarm: e.currentTarget.checked })}
            style={{ paddingBottom: 8 }}
          />
          <Button type="submit" loading={add.isPending}>
            Tell it
          </Button>
        </form>
        {secret && (
          <div className="note glaze" role="status">
            <span>
              Its webhooks are signed with <code style={{ overflowWrap: 'anywhere' }}>{secret}</code>. It is not shown again.
            </span>
          </div>
        )}
        {(add.isError || test.isError) && <Failed error={add.error ?? test.error} />}
        <span className="dim small">
          JSON by POST: causes with their counts and links, never which record or who. The headers are Narbit-Event, Narbit-Time (seconds
          since 1970) and Narbit-Signature: HMAC-SHA256 of time, a point and body, in hexadecimal.
        </span>
      </div>
    </section>
  )
}
