import { useNavigate, useSearch } from '@tanstack/react-router'
import { useRef, useState } from 'react'
import type { ListState } from '../../shared/listState'
import type { Couple, DeskRow } from './actions'

/** What is shown first: where a person is needed most. */
function firstOpen(c: Couple['counts']) {
  if (c.likely > 0) return 'likely'
  if (c.ambiguous > 0) return 'ambiguous'
  if (c.certain > 0) return 'certain'
  return c.none > 0 ? 'none' : 'paired'
}

/** The list of the desk: what it shows, and which record is chosen in it. */
export function useDeskList(couple: Couple) {
  const state = useSearch({ from: '/pair-desk/$couple' })
  const navigate = useNavigate({ from: '/pair-desk/$couple' })
  // What was opened first stays, also when its last record is decided.
  const [opened] = useState(() => firstOpen(couple.counts))
  const show = state.show ?? opened
  const side = show === 'none' ? state.kind : undefined
  const [found, setRow] = useState<DeskRow>()
  const [listedAt, setListedAt] = useState(0)
  const [decided, setDecided] = useState<{ id: string; at: number }>()
  // Only what is chosen in the list as it is now can be decided; a row that was just decided waits to leave the list.
  const gone = decided !== undefined && decided.id === found?.id && decided.at > listedAt
  return {
    state,
    show,
    side,
    query: { show, cause: state.cause, side, search: state.search },
    filtered: state.cause !== undefined || (state.search ?? '') !== '' || side !== undefined,
    row: found !== undefined && found.id === state.row && !gone ? found : undefined,
    steer: useRef<((by: number) => void) | null>(null),
    go: (change: ListState) => void navigate({ search: { ...change }, replace: true }),
    search: (search: string | undefined) => void navigate({ search: (s: ListState) => ({ ...s, search, row: undefined }), replace: true }),
    choose: (r: DeskRow) => void navigate({ search: (s: ListState) => ({ ...s, row: r.id }), replace: true }),
    review: () => void navigate({ search: { tab: 'review' } }),
    follow: (r: DeskRow | undefined) => {
      setRow(r)
      setListedAt(Date.now())
    },
    leave: (id: string) => setDecided({ id, at: Date.now() }),
  }
}

export type DeskList = ReturnType<typeof useDeskList>
