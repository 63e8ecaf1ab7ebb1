import { Button } from '@mantine/core'
import { useDisclosure, useHotkeys } from '@mantine/hooks'
import { plural } from '../../shared/format'
import { type Couple, type DeskRow, useDesk } from './actions'
import { Candidates } from './Candidates'
import { DeskActs } from './DeskActs'
import { DeskFilters } from './DeskFilters'
import { DeskRecords } from './DeskRecords'
import { DeskSeam } from './DeskSeam'
import { Habit } from './Habit'
import { KitDialog } from './KitDialog'
import { SetAsideDialog } from './SetAsideDialog'
import { useDeskAll } from './useDeskAll'
import { useDeskList } from './useDeskList'
import { useDeskRow } from './useDeskRow'

/** Left the records, in the middle the seam with its evidence, right the candidates. Every key works without a mouse. */
export function Desk({ couple }: { couple: Couple }) {
  const desk = useDesk(couple.id)
  const list = useDeskList(couple)
  const choice = useDeskRow(couple, list, desk)
  const all = useDeskAll(couple, list, desk)
  const [asksAside, aside] = useDisclosure(false)
  const [asksKit, kit] = useDisclosure(false)
  const { row } = list
  const move = (by: number) => () => list.steer.current?.(by)
  const choose = (r: DeskRow) => {
    choice.look(undefined)
    list.choose(r)
  }

  const undo = () => desk.withdraw.mutate(undefined)

  useHotkeys([
    ['j', move(1)],
    ['k', move(-1)],
    ['ArrowDown', move(1)],
    ['ArrowUp', move(-1)],
    ['a', choice.accept],
    ['shift+A', all.accept],
    ['n', () => choice.next(1)],
    ['b', () => choice.next(-1)],
    ['1', () => choice.pick(0)],
    ['2', () => choice.pick(1)],
    ['3', () => choice.pick(2)],
    ['4', () => choice.pick(3)],
    ['5', () => choice.pick(4)],
    ['x', () => choice.isOpen && aside.open()],
    ['shift+X', all.ask],
    ['h', () => choice.isOpen && row?.otherKey && kit.open()],
    ['c', choice.create],
    ['d', choice.takeBack],
    ['u', undo],
    ['v', list.review],
    ['[', list.otherSort(-1)],
    [']', list.otherSort(1)],
  ])

  return (
    <>
      <DeskFilters couple={couple} list={list} />
      <Habit couple={couple} />
      <div className="desk">
        <DeskRecords couple={couple} list={list} all={all} choose={choose} />
        <DeskSeam couple={couple} row={row} seam={choice.seam} />
        <Candidates couple={couple} row={row} candidates={choice.candidates} chosen={choice.across} choose={choice.look} />
      </div>
      <DeskActs couple={couple} row={row} choice={choice} desk={desk} askAside={aside.open} askKit={kit.open} />
      {couple.counts.waiting > 0 && (
        <div className="bar" role="status">
          <span className="strong">{plural(couple.counts.waiting, 'decision')} waiting</span>
          <span className="grow">Nothing of it is in force yet.</span>
          <button type="button" className="act" onClick={undo}>
            Undo last
          </button>
          <button type="button" className="act" onClick={() => desk.throwAway.mutate()}>
            Throw away
          </button>
          <Button variant="filled" size="xs" onClick={list.review}>
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
        done={(reason) => {
          aside.close()
          choice.setAside(reason)
        }}
      />
      <SetAsideDialog
        couple={couple}
        opened={all.asked > 0}
        close={all.forget}
        side={list.side === 'other' ? 'other' : 'hub'}
        number={all.asked}
        done={all.setAside}
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
            choice.kit(parts)
          }}
        />
      )}
    </>
  )
}
