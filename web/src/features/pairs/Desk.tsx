import { Button, Kbd, Select } from '@mantine/core'
import { useDisclosure, useHotkeys } from '@mantine/hooks'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Link, useNavigate, useSearch } from '@tanstack/react-router'
import { useRef, useState } from 'react'
import type { ListState } from '../../app/router'
import { api, take } from '../../shared/api'
import { Chips } from '../../shared/Chips'
import { count, plural } from '../../shared/format'
import { LongTable } from '../../shared/LongTable'
import { Search } from '../../shared/Search'
import { SystemMark } from '../../shared/SystemMark'
import { Empty } from '../../shared/states'
import { type Couple, type Decision, type DeskRow, useDesk } from './actions'
import { Candidates } from './Candidates'
import { DeskSeam } from './DeskSeam'
import { Habit } from './Habit'
import { KitDialog } from './KitDialog'
import { SetAsideDialog } from './SetAsideDialog'

const tones: Record<string, string> = { certain: 'glaze', likely: 'glaze', ambiguous: 'clay', none: 'ochre' }

/** What is shown first: where a person is needed most. */
function firstOpen(c: Couple['counts']) {
  if (c.likely > 0) return 'likely'
  if (c.ambiguous > 0) return 'ambiguous'
  if (c.certain > 0) return 'certain'
  return c.none > 0 ? 'none' : 'paired'
}

/** Left the records, in the middle the seam with its evidence, right the candidates. Every key works without a mouse. */
export function Desk({ couple }: { couple: Couple }) {
  const state = useSearch({ from: '/pair-desk/$couple' })
  const navigate = useNavigate({ from: '/pair-desk/$couple' })
  const desk = useDesk(couple.id)
  const c = couple.counts
  // What was opened first stays, also when its last record is decided.
  const [opened] = useState(() => firstOpen(c))
  const show = state.show ?? opened
  const side = show === 'none' ? state.kind : undefined
  const [found, setRow] = useState<DeskRow>()
  const [listedAt, setListedAt] = useState(0)
  const [decided, setDecided] = useState<{ id: string; at: number }>()
  // Only what is chosen in the list as it is now can be decided; a row that was just decided waits to leave the list.
  const gone = decided !== undefined && decided.id === found?.id && decided.at > listedAt
  const row = found !== undefined && found.id === state.row && !gone ? found : undefined
  const [candidate, setCandidate] = useState<string>()
  const [asksAside, aside] = useDisclosure(false)
  // How many the question is about; what it said is what is done.
  const [asked, setAsked] = useState(0)
  const [asksKit, kit] = useDisclosure(false)
  const steer = useRef<((by: number) => void) | null>(null)

  const list = { show, cause: state.cause, side, search: state.search }
  const seam = useQuery({
    enabled: row !== undefined,
    queryKey: ['desk', couple.id, 'seam', row?.hubKey, row?.otherKey, candidate],
    queryFn: () => {
      const across = candidate ?? undefined
      const query = {
        hub: row?.hubKey ?? across,
        other: row?.hubKey ? (across ?? row.otherKey ?? undefined) : (row?.otherKey ?? undefined),
      }
      return take(api.GET('/api/couples/{id}/seam', { params: { path: { id: couple.id }, query } }))
    },
    placeholderData: keepPreviousData,
  })
  const own = useQuery({
    enabled: row !== undefined && row.standing === 'open',
    queryKey: ['desk', couple.id, 'seam', row?.hubKey, row?.otherKey, undefined],
    queryFn: () =>
      take(
        api.GET('/api/couples/{id}/seam', {
          params: { path: { id: couple.id }, query: { hub: row?.hubKey ?? undefined, other: row?.otherKey ?? undefined } },
        }),
      ),
  })
  const candidates = row?.standing === 'open' ? (own.data?.candidates ?? []) : []
  const best = row?.otherKey && row.hubKey ? (row.hubKey ? row.otherKey : row.hubKey) : undefined
  const across = candidate ?? best ?? candidates[0]?.key
  const openRow = row?.standing === 'open'
  const taken = candidates.find((x) => x.key === across)?.taken ?? false

  const choose = (r: DeskRow) => {
    setCandidate(undefined)
    void navigate({ search: (s: ListState) => ({ ...s, row: r.id }), replace: true })
  }
  const decide = (decision: Decision) => {
    if (desk.decide.isPending || !row) return
    const { id } = row
    desk.decide.mutate([decision], {
      onSuccess: () => {
        setCandidate(undefined)
        setDecided({ id, at: Date.now() })
        steer.current?.(1)
      },
    })
  }
  const accept = () => {
    if (!openRow || !across || !row) return
    const [hubKey, otherKey] = row.hubKey ? [row.hubKey, across] : [across, row.otherKey as string]
    decide({ act: !row.hubKey && taken ? 'share' : 'accept', hubKey, otherKey, parts: null, reason: null })
  }
  const unpair = () => {
    if (!row || !['paired', 'kit', 'setAside', 'toCreate'].includes(row.standing)) return
    const linked = row.standing === 'paired' || row.standing === 'kit'
    decide({ act: 'unpair', hubKey: linked ? null : (row.hubKey ?? null), otherKey: row.otherKey ?? null, parts: null, reason: null })
  }
  const create = () => {
    if (openRow && row?.hubKey && !row.otherKey) decide({ act: 'create', hubKey: row.hubKey, otherKey: null, parts: null, reason: null })
  }
  const setAside = (reason: string) => {
    aside.close()
    if (!row) return
    const alone =
      row.hubKey && row.otherKey ? { hubKey: row.hubKey, otherKey: null } : { hubKey: row.hubKey ?? null, otherKey: row.otherKey ?? null }
    decide({ act: 'setAside', ...alone, parts: null, reason })
  }
  const nextCandidate = (by: number) => {
    if (candidates.length === 0) return
    const at = candidates.findIndex((x) => x.key === across)
    setCandidate(candidates[(at + by + candidates.length) % candidates.length]?.key)
  }
  const pick = (n: number) => () => candidates[n] && setCandidate(candidates[n].key)
  const pairs = show === 'certain' || show === 'likely'
  const alone = show === 'none'
  const many = show === 'certain' ? c.certain : c.likely
  const filtered = state.cause !== undefined || (state.search ?? '') !== '' || side !== undefined
  const total = useQuery({
    enabled: pairs || alone,
    queryKey: ['desk', couple.id, 'rows', list, 'total'],
    queryFn: () => take(api.GET('/api/couples/{id}/rows', { params: { path: { id: couple.id }, query: { ...list, limit: 1 } } })),
  })
  // While it is counted anew there is no number to agree to.
  const number = filtered || alone ? (total.isFetching ? 0 : (total.data?.total ?? 0)) : many
  const acceptAll = () => {
    if (pairs && number > 0)
      desk.decideAll.mutate({
        act: 'accept',
        reason: null,
        show,
        cause: state.cause ?? null,
        side: side ?? null,
        search: state.search ?? null,
        expected: number,
      })
  }
  const asideAll = (reason: string) => {
    setAsked(0)
    desk.decideAll.mutate({
      act: 'setAside',
      reason,
      show,
      cause: state.cause ?? null,
      side: side ?? null,
      search: state.search ?? null,
      expected: asked,
    })
  }

  useHotkeys([
    ['j', () => steer.current?.(1)],
    ['k', () => steer.current?.(-1)],
    ['ArrowDown', () => steer.current?.(1)],
    ['ArrowUp', () => steer.current?.(-1)],
    ['a', accept],
    ['shift+A', acceptAll],
    ['n', () => nextCandidate(1)],
    ['b', () => nextCandidate(-1)],
    ['1', pick(0)],
    ['2', pick(1)],
    ['3', pick(2)],
    ['4', pick(3)],
    ['5', pick(4)],
    ['x', () => openRow && aside.open()],
    ['shift+X', () => alone && side !== undefined && setAsked(number)],
    ['h', () => openRow && row?.otherKey && kit.open()],
    ['c', create],
    ['d', unpair],
    ['u', () => desk.withdraw.mutate(undefined)],
    ['v', () => void navigate({ search: { tab: 'review' } })],
  ])

  const go = (change: ListState) => void navigate({ search: { ...change }, replace: true })
  return (
    <>
      <div className="row wrap" style={{ gap: 8 }}>
        <Chips
          label="Records by verdict"
          slim
          chosen={show}
          choose={(k) => go({ show: k })}
          chips={[
            { key: 'likely', text: 'likely', count: c.likely, always: true },
            { key: 'ambiguous', text: 'ambiguous', count: c.ambiguous, always: true },
            { key: 'none', text: 'none', count: c.none, always: true },
            { key: 'certain', text: 'certain', count: c.certain, always: true },
            { key: 'waiting', text: 'decided', count: c.waiting },
            { key: 'setAside', text: 'set aside', count: c.setAside },
            { key: 'toCreate', text: 'to create', count: c.toCreate },
            { key: 'paired', text: 'paired', count: c.paired, always: true },
          ]}
        />
        <span className="grow" />
        <Causes couple={couple} chosen={state.cause} choose={(cause) => go({ show, cause })} />
        <Search
          label="Filter this list"
          slim
          text={state.search ?? ''}
          search={(search) => void navigate({ search: (s: ListState) => ({ ...s, search, row: undefined }), replace: true })}
        />
      </div>
      <Habit couple={couple} />
      <div className="desk">
        <section className="sheet" aria-label="Records">
          {alone && (
            <div className="row" style={{ padding: '7px 10px', borderBottom: '1px solid var(--rule)', gap: 6 }}>
              {(
                [
                  ['both', undefined],
                  ['hub', couple.hub],
                  ['other', couple.other],
                ] as const
              ).map(([key, system]) => (
                <button
                  key={key}
                  type="button"
                  className="chip slim"
                  aria-pressed={(side ?? 'both') === key}
                  onClick={() => go({ show, kind: key === 'both' ? undefined : key, cause: state.cause, search: state.search })}
                >
                  {system ? `only in ${system.mark}` : 'all'}
                </button>
              ))}
            </div>
          )}
          <div style={{ flex: 1, minHeight: 0 }}>
            <LongTable<DeskRow>
              label="Records"
              tall
              queryKey={['desk', couple.id, 'rows', list]}
              fetch={(offset, limit) =>
                take(api.GET('/api/couples/{id}/rows', { params: { path: { id: couple.id }, query: { ...list, offset, limit } } }))
              }
              rowKey={(r) => r.id}
              chosen={state.row}
              open={choose}
              follow={(r) => {
                setRow(r)
                setListedAt(Date.now())
              }}
              steer={steer}
              columns={[
                { key: 'mark', head: 'Side', width: '28px', cell: (r) => <SystemMark system={r.hubKey ? couple.hub : couple.other} /> },
                {
                  key: 'record',
                  head: 'Record',
                  width: 'minmax(0, 1fr)',
                  cell: (r) => (
                    <>
                      <div className="clip" title={r.title ?? undefined}>
                        {r.title ?? r.hubKey ?? r.otherKey}
                      </div>
                      <div className="row" style={{ gap: 6 }}>
                        <span className="clip dim grow">
                          <span className="mono">{r.sku || 'no SKU'}</span>
                          {r.note && r.standing !== 'open' && <span className="small"> · {r.note}</span>}
                        </span>
                        <Word row={r} />
                      </div>
                    </>
                  ),
                },
              ]}
              empty={
                <Empty
                  title={
                    filtered
                      ? 'Nothing in this filter'
                      : show === 'paired'
                        ? 'Nothing is paired yet'
                        : `Nothing ${show === 'none' ? 'without partner' : show}`
                  }
                >
                  {c.unpaired === 0
                    ? 'Every record is paired or set aside.'
                    : c.certain + c.likely + c.ambiguous + c.none === 0
                      ? 'All is decided: review and commit.'
                      : 'Choose another verdict above.'}
                </Empty>
              }
            />
          </div>
          {pairs && number > 0 && (
            <div className="desk-foot">
              <Button size="xs" fullWidth loading={desk.decideAll.isPending} onClick={acceptAll} rightSection={<Kbd size="xs">A</Kbd>}>
                Accept all {count(number)} {show}
              </Button>
            </div>
          )}
          {alone && side !== undefined && number > 0 && (
            <div className="desk-foot">
              <Button
                size="xs"
                fullWidth
                loading={desk.decideAll.isPending}
                onClick={() => setAsked(number)}
                rightSection={<Kbd size="xs">X</Kbd>}
              >
                Set all {count(number)} aside
              </Button>
            </div>
          )}
        </section>
        <DeskSeam couple={couple} row={row} seam={seam} />
        <Candidates couple={couple} row={row} candidates={candidates} chosen={across} choose={setCandidate} />
      </div>
      <div className="row wrap" style={{ gap: 8 }}>
        {openRow && (
          <>
            <Button
              size="xs"
              variant="filled"
              disabled={!across}
              loading={desk.decide.isPending}
              onClick={accept}
              rightSection={<Kbd size="xs">a</Kbd>}
            >
              {!row?.hubKey && taken ? 'Share this item' : 'Accept'}
            </Button>
            <Button size="xs" onClick={aside.open} rightSection={<Kbd size="xs">x</Kbd>}>
              Set aside
            </Button>
            {couple.kind === 'item' && row?.otherKey && (
              <Button size="xs" onClick={kit.open} rightSection={<Kbd size="xs">h</Kbd>}>
                Kit
              </Button>
            )}
            {couple.kind === 'item' && row?.hubKey && !row.otherKey && (
              <Button size="xs" onClick={create} rightSection={<Kbd size="xs">c</Kbd>}>
                Create there
              </Button>
            )}
          </>
        )}
        {row && ['paired', 'kit', 'setAside', 'toCreate'].includes(row.standing) && (
          <Button size="xs" onClick={unpair} rightSection={<Kbd size="xs">d</Kbd>}>
            {row.standing === 'paired' || row.standing === 'kit' ? 'Unpair' : 'Take back'}
          </Button>
        )}
        {row?.standing === 'paired' && couple.kind === 'item' && row.hubKey && (
          <Link to="/items/$item" params={{ item: row.hubKey }} className="act">
            All listings of this item
          </Link>
        )}
        <span className="dim small">
          <Kbd size="xs">j</Kbd> <Kbd size="xs">k</Kbd> move · <Kbd size="xs">n</Kbd> next candidate · <Kbd size="xs">/</Kbd> search ·{' '}
          <Kbd size="xs">u</Kbd> undo · <Kbd size="xs">v</Kbd> review
        </span>
        <span className="grow" />
      </div>
      {c.waiting > 0 && (
        <div className="bar" role="status">
          <span className="strong">{plural(c.waiting, 'decision')} waiting</span>
          <span className="grow">Nothing of it is in force yet.</span>
          <button type="button" className="act" onClick={() => desk.withdraw.mutate(undefined)}>
            Undo last
          </button>
          <button type="button" className="act" onClick={() => desk.throwAway.mutate()}>
            Throw away
          </button>
          <Button variant="filled" size="xs" onClick={() => void navigate({ search: { tab: 'review' } })}>
            Review and commit
          </Button>
        </div>
      )}
      <SetAsideDialog
        couple={couple}
        opened={asksAside}
        close={aside.close}
        side={row?.hubKey ? 'hub' : 'other'}
        number={1}
        done={setAside}
      />
      <SetAsideDialog
        couple={couple}
        opened={asked > 0}
        close={() => setAsked(0)}
        side={side === 'other' ? 'other' : 'hub'}
        number={asked}
        done={asideAll}
      />
      {row?.otherKey && (
        <KitDialog
          key={row.otherKey}
          couple={couple}
          row={row}
          opened={asksKit}
          close={kit.close}
          done={(parts) => {
            kit.close()
            decide({ act: 'kit', hubKey: null, otherKey: row.otherKey as string, parts, reason: null })
          }}
        />
      )}
    </>
  )
}

function Word({ row }: { row: DeskRow }) {
  if (row.standing === 'open') {
    const twice = row.causes.some((cause) => cause.endsWith('skuTwice'))
    const word = twice && row.verdict !== 'certain' ? 'twice' : (row.verdict ?? '')
    return <span className={`tag ${twice ? 'clay' : (tones[row.verdict ?? ''] ?? 'plain')}`}>{word}</span>
  }
  if (row.causes.includes('gone')) return <span className="tag harm">gone</span>
  return (
    <span className="tag plain">
      {{ waiting: 'decided', paired: 'paired', kit: 'kit', setAside: 'aside', toCreate: 'create' }[row.standing]}
    </span>
  )
}

/** Housekeeping: records by what is wrong with them. */
function Causes({ couple, chosen, choose }: { couple: Couple; chosen: string | undefined; choose: (cause: string | undefined) => void }) {
  const causes = useQuery({
    queryKey: ['desk', couple.id, 'causes'],
    queryFn: () => take(api.GET('/api/couples/{id}/causes', { params: { path: { id: couple.id } } })),
  })
  const mark = (side: string) => (side === 'hub' ? couple.hub.mark : couple.other.mark)
  return (
    <Select
      size="xs"
      w={230}
      aria-label="Housekeeping cause"
      placeholder={`Housekeeping: ${plural(causes.data?.length ?? 0, 'cause')}`}
      clearable
      clearButtonProps={{ 'aria-label': 'Every cause' }}
      value={chosen ?? null}
      onChange={(v) => choose(v ?? undefined)}
      data={(causes.data ?? []).map((x) => ({ value: x.cause, label: `${mark(x.side)}: ${x.words} (${count(x.count)})` }))}
    />
  )
}
