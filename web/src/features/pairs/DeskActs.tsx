import { Button, Kbd } from '@mantine/core'
import { Link } from '@tanstack/react-router'
import type { Couple, DeskRow, useDesk } from './actions'
import type { DeskChoice } from './useDeskRow'

type Props = {
  couple: Couple
  row: DeskRow | undefined
  choice: DeskChoice
  desk: ReturnType<typeof useDesk>
  askAside: () => void
  askKit: () => void
}

/** What can be decided about the chosen record, each with its key. */
export function DeskActs(props: Props) {
  const { couple, row, choice } = props
  return (
    <div className="row wrap" style={{ gap: 8 }}>
      {choice.isOpen && <Open {...props} />}
      {row && choice.canTakeBack && (
        <Button size="xs" onClick={choice.takeBack} rightSection={<Kbd size="xs">d</Kbd>}>
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
  )
}

function Open({ couple, row, choice, desk, askAside, askKit }: Props) {
  const isItem = couple.kind === 'item'
  return (
    <>
      <Button
        size="xs"
        variant="filled"
        disabled={!choice.across}
        loading={desk.decide.isPending}
        onClick={choice.accept}
        rightSection={<Kbd size="xs">a</Kbd>}
      >
        {choice.shares ? 'Share this item' : 'Accept'}
      </Button>
      <Button size="xs" onClick={askAside} rightSection={<Kbd size="xs">x</Kbd>}>
        Set aside
      </Button>
      {isItem && row?.otherKey && (
        <Button size="xs" onClick={askKit} rightSection={<Kbd size="xs">h</Kbd>}>
          Kit
        </Button>
      )}
      {isItem && row?.hubKey && !row.otherKey && (
        <Button size="xs" onClick={choice.create} rightSection={<Kbd size="xs">c</Kbd>}>
          Create there
        </Button>
      )}
    </>
  )
}
