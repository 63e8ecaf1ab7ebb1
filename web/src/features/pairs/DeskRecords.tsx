import { Button, Kbd } from '@mantine/core'
import type { ReactNode } from 'react'
import { count } from '../../shared/format'
import { LongTable } from '../../shared/LongTable'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Empty } from '../../shared/states'
import type { Couple, DeskRow } from './actions'
import type { DeskAll } from './useDeskAll'
import type { DeskList } from './useDeskList'

const tones: Record<string, string> = { certain: 'glaze', likely: 'glaze', ambiguous: 'clay', none: 'ochre' }

/** The records of the list, and what can be done to all of them. */
export function DeskRecords({ couple, list, all, choose }: { couple: Couple; list: DeskList; all: DeskAll; choose: (r: DeskRow) => void }) {
  return (
    <section className="sheet" aria-label="Records">
      {list.show === 'none' && <Sides couple={couple} list={list} />}
      <div style={{ flex: 1, minHeight: 0 }}>
        <LongTable<DeskRow>
          label="Records"
          tall
          pages={queries.deskRows(couple.id, list.query)}
          rowKey={(r) => r.id}
          chosen={list.state.row}
          open={choose}
          follow={list.follow}
          steer={list.steer}
          columns={[
            { key: 'mark', head: 'Side', width: '28px', cell: (r) => <SystemMark system={r.hubKey ? couple.hub : couple.other} /> },
            {
              key: 'record',
              head: 'Record',
              width: 'minmax(0, 1fr)',
              cell: (r) => <Line row={r} missing={couple.kind === 'item' ? 'no SKU' : 'no account or mail address'} />,
            },
          ]}
          empty={<Nothing couple={couple} list={list} />}
        />
      </div>
      {all.canAccept && (
        <Foot isPending={all.isPending} act={all.accept} letter="A">
          Accept all {count(all.number)} {list.show}
        </Foot>
      )}
      {all.canSetAside && (
        <Foot isPending={all.isPending} act={all.ask} letter="X">
          Set all {count(all.number)} aside
        </Foot>
      )}
    </section>
  )
}

function Foot(props: { isPending: boolean; act: () => void; letter: string; children: ReactNode }) {
  return (
    <div className="desk-foot">
      <Button size="xs" fullWidth loading={props.isPending} onClick={props.act} rightSection={<Kbd size="xs">{props.letter}</Kbd>}>
        {props.children}
      </Button>
    </div>
  )
}

/** Records without a partner stand on either side. */
function Sides({ couple, list }: { couple: Couple; list: DeskList }) {
  const sides = [
    ['both', undefined],
    ['hub', couple.hub],
    ['other', couple.other],
  ] as const
  return (
    <div className="row" style={{ padding: '7px 10px', borderBottom: '1px solid var(--rule)', gap: 6 }}>
      {sides.map(([key, system]) => (
        <button
          key={key}
          type="button"
          className="chip slim"
          aria-pressed={(list.side ?? 'both') === key}
          onClick={() =>
            list.go({ show: list.show, kind: key === 'both' ? undefined : key, cause: list.state.cause, search: list.state.search })
          }
        >
          {system ? `only in ${system.mark}` : 'all'}
        </button>
      ))}
    </div>
  )
}

function Line({ row, missing }: { row: DeskRow; missing: string }) {
  return (
    <>
      <div className="clip" title={row.caption ?? undefined}>
        {row.caption ?? row.hubKey ?? row.otherKey}
      </div>
      <div className="row" style={{ gap: 6 }}>
        <span className="clip dim grow">
          <span className="mono">{row.reference || missing}</span>
          {row.note && row.standing !== 'open' && <span className="small"> · {row.note}</span>}
        </span>
        <Word row={row} />
      </div>
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

function Nothing({ couple, list }: { couple: Couple; list: DeskList }) {
  const c = couple.counts
  const what = list.show === 'none' ? 'without partner' : list.show
  const title = list.filtered ? 'Nothing in this filter' : list.show === 'paired' ? 'Nothing is paired yet' : `Nothing ${what}`
  const open = c.certain + c.likely + c.ambiguous + c.none
  return (
    <Empty title={title}>
      {couple.pairedAt === null
        ? 'Press “Read and pair anew” to see what belongs together.'
        : c.unpaired === 0
          ? 'Every record is paired or set aside.'
          : open === 0
            ? 'All is decided: review and commit.'
            : 'Choose another verdict above.'}
    </Empty>
  )
}
