import { Button, Kbd, Menu, Textarea } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { useRouter } from '@tanstack/react-router'
import { Fragment, useState } from 'react'
import type { Schemas } from '../../shared/api'
import { Dialog } from '../../shared/Dialog'
import { at, plural, startOfDay, startOfWeek, when } from '../../shared/format'
import { Scrolls } from '../../shared/Scrolls'
import { Seam } from '../../shared/Seam'
import { SystemMark } from '../../shared/SystemMark'
import { shown } from '../../shared/shown'
import { usePeople } from '../../shared/systems'
import type { useDesk } from './actions'
import type { Mismatch, Others } from './mismatch'

type View = Schemas['MismatchView']
type Desk = ReturnType<typeof useDesk>

/** A mismatch on the seam: both records, and between what they are and what becomes of them the way out. */
export function WayOut(props: {
  view: View
  isChosen: boolean
  desk: Desk
  about: (subject: string) => void
  /** The others that are to get the same, once they are shown. */
  others: Others | undefined
  show: (others: Others | undefined) => void
}) {
  const { view, about } = props
  const { row } = view
  return (
    <section className="sheet way-out" aria-label="The chosen mismatch">
      <Scrolls label="Both records">
        {view.seam.length > 0 ? (
          <Seam left={<Side system={row.system} of={row.key} />} right={<Side system={row.other} of={row.otherKey} />} rows={view.seam} />
        ) : (
          <Facts view={view} />
        )}
      </Scrolls>
      <div className="pad stack" style={{ overflow: 'auto' }}>
        <div className="strong">{row.words}</div>
        <span className="dim small">
          first seen {when(view.firstSeenAt)}, {plural(row.seen, 'time')}
          {row.cameBack > 0 && `, came back ${plural(row.cameBack, 'time')}`}
          {row.subject && (
            <>
              {' '}
              · about{' '}
              <button type="button" className="act mono" onClick={() => about(row.subject ?? '')}>
                {row.subject}
              </button>
            </>
          )}
        </span>
        {row.state === 'open' || row.state === 'putOff' ? <Acts {...props} /> : <Ended row={row} />}
        <History acts={view.acts} />
      </div>
    </section>
  )
}

/** A record that stands alone, with what it says of itself. */
function Facts({ view }: { view: View }) {
  return (
    <dl className="facts">
      <dt>
        <Side system={view.row.system} of={view.row.key} />
      </dt>
      <dd>{view.row.caption}</dd>
      {view.facts.map((f) => (
        <Fragment key={f.label}>
          <dt className="dim">{f.label}</dt>
          <dd>
            {shown(f.text)} {f.unit && <span className="dim">{f.unit}</span>}
          </dd>
        </Fragment>
      ))}
    </dl>
  )
}

function Side({ system, of }: { system: Mismatch['system']; of: string | null | undefined }) {
  return (
    <>
      {system && <SystemMark system={system} />} <span className="mono">{of || 'no record'}</span>
    </>
  )
}

function Ended({ row }: { row: Mismatch }) {
  return (
    <div className="note glaze">
      <span>
        {row.settledBy ? `${row.settledBy} settled it` : 'It was gone by itself'} {when(row.endedAt)}.
      </span>
    </div>
  )
}

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1)

const sure = (confidence: number) => (confidence >= 0.8 ? 'very likely right' : confidence >= 0.6 ? 'likely right' : 'a guess')

function Acts({ view, desk, isChosen, others: shown, show }: Parameters<typeof WayOut>[0]) {
  const { row, alike, ofCause } = view
  const router = useRouter()
  const [asking, ask] = useState<'remark' | 'settle' | null>(null)
  // While the one that was chosen is still on its way, what is shown is another one: nothing is done to it.
  const act = (body: Partial<Schemas['ActToDo']> & Pick<Schemas['ActToDo'], 'act'>) =>
    isChosen &&
    !desk.act.isPending &&
    desk.act.mutate({
      ids: null,
      alikeTo: null,
      ofCauseOf: null,
      expected: null,
      fingerprint: null,
      until: null,
      owner: null,
      words: null,
      ...body,
    })
  const takeOne = () => row.suggestion && act({ act: 'take', ids: [row.id], fingerprint: row.fingerprint })
  // Others are alike where they are about the same; else the cause is what they share. They are shown before they get the same.
  // One that is put off is none of those that are open.
  const others = row.state !== 'open' ? 0 : alike > 0 ? alike : ofCause
  const takeAll = () => {
    if (!row.suggestion || others === 0 || !isChosen) return
    if (!shown) return show({ of: String(row.id), scope: alike > 0 ? 'alike' : 'cause' })
    act({ act: 'take', [shown.scope === 'alike' ? 'alikeTo' : 'ofCauseOf']: row.id, expected: others + 1 })
    show(undefined)
  }
  useHotkeys([
    ['a', takeOne],
    ['shift+A', takeAll],
    ['n', () => ask('remark')],
    ['e', () => ask('settle')],
    ['d', () => act({ act: 'putOff', ids: [row.id], until: tomorrow() })],
    ['h', () => router.history.push(row.link)],
  ])
  return (
    <>
      {row.suggestion ? (
        <div className="suggested">
          <div className="strong">{row.suggestion.words}</div>
          <div className="dim small">
            {sure(row.suggestion.confidence)}
            {row.suggestion.because && `: ${row.suggestion.because}`}
            {row.suggestion.learns && '. It holds for what comes later too'}
          </div>
          {row.suggestion.effect && <div className="small">{capital(row.suggestion.effect)}.</div>}
          <div className="row wrap" style={{ marginTop: 8 }}>
            <Button size="xs" variant="filled" loading={desk.act.isPending} onClick={takeOne} rightSection={<Kbd size="xs">a</Kbd>}>
              Do this
            </Button>
            {others > 0 && (
              <Button size="xs" loading={desk.act.isPending} onClick={takeAll} rightSection={<Kbd size="xs">A</Kbd>}>
                {shown ? `Do it for all ${others + 1}` : `The same for ${alike > 0 ? 'the' : 'all of this cause, the'} other ${others}`}
              </Button>
            )}
          </div>
        </div>
      ) : (
        <div className="dim">No way out could be computed; it is decided where it is.</div>
      )}
      <div className="row wrap" style={{ gap: 8 }}>
        <Button size="xs" onClick={() => router.history.push(row.link)} rightSection={<Kbd size="xs">h</Kbd>}>
          Decide by hand
        </Button>
        <PutOff putOff={(until) => act({ act: 'putOff', ids: [row.id], until })} />
        <Give row={row} give={(owner) => act({ act: 'give', ids: [row.id], owner })} />
        <Button size="xs" onClick={() => ask('remark')} rightSection={<Kbd size="xs">n</Kbd>}>
          Remark
        </Button>
        <Button size="xs" onClick={() => ask('settle')} rightSection={<Kbd size="xs">e</Kbd>}>
          Settled
        </Button>
      </div>
      <Saying
        key={asking}
        asking={asking}
        close={() => ask(null)}
        say={(words) => {
          ask(null)
          act({ act: asking ?? 'remark', ids: [row.id], words })
        }}
      />
    </>
  )
}

const tomorrow = () => new Date(Date.parse(startOfDay(new Date().toISOString(), 1)) + 8 * 3_600_000).toISOString()

function PutOff({ putOff }: { putOff: (until: string) => void }) {
  const now = new Date().toISOString()
  const choices: [string, string][] = [
    ['until tomorrow, 08:00', tomorrow()],
    ['until next week', startOfWeek(now, 1)],
    ['for a month', startOfDay(now, 30)],
  ]
  return (
    <Menu>
      <Menu.Target>
        <Button size="xs" rightSection={<Kbd size="xs">d</Kbd>}>
          Put off
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {choices.map(([label, until]) => (
          <Menu.Item key={label} onClick={() => putOff(until)}>
            {label}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  )
}

function Give({ row, give }: { row: Mismatch; give: (owner: string | null) => void }) {
  const people = usePeople()
  return (
    <Menu>
      <Menu.Target>
        <Button size="xs">Give to</Button>
      </Menu.Target>
      <Menu.Dropdown>
        {people.map((p) => (
          <Menu.Item key={p} onClick={() => give(p)} disabled={row.owner === p}>
            {p}
          </Menu.Item>
        ))}
        <Menu.Item onClick={() => give(null)} disabled={row.owner === null}>
          nobody
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  )
}

function Saying(props: { asking: 'remark' | 'settle' | null; close: () => void; say: (words: string) => void }) {
  const [words, setWords] = useState('')
  const settles = props.asking === 'settle'
  return (
    <Dialog title={settles ? 'Settled elsewhere, or as it should be' : 'Remark'} opened={props.asking !== null} close={props.close}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault()
          props.say(words)
        }}
      >
        <Textarea
          label={settles ? 'Why, for whoever meets it again' : 'What is to be known of it'}
          value={words}
          onChange={(e) => setWords(e.currentTarget.value)}
          autosize
          minRows={3}
          data-autofocus
        />
        {settles && <span className="dim small">If the next comparison still finds it, it comes back.</span>}
        <div className="row">
          <Button type="submit" variant="filled" disabled={!settles && words.trim() === ''}>
            {settles ? 'Settled' : 'Keep'}
          </Button>
          <Button onClick={props.close}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  )
}

const actWords: Record<Schemas['MismatchActKind'], string> = {
  applied: 'took the way out',
  putOff: 'put it off',
  given: 'gave it to',
  remark: 'remarked',
  settled: 'settled it',
  cameBack: 'saw it again',
}

/** What was done about it, the newest first. */
function History({ acts }: { acts: Schemas['ActView'][] }) {
  return acts.map((a) => (
    <div key={a.id} className="small">
      <span className="dim">{at(a.at)}</span> <span className="strong">{a.by}</span> {actWords[a.kind]}
      {a.words && `: ${a.words}`}
      {a.count > 1 && <span className="dim"> ({plural(a.count, 'mismatch', 'mismatches')} at once)</span>}
      {a.undoneBy && <span className="dim">, taken back by {a.undoneBy}</span>}
    </div>
  ))
}
