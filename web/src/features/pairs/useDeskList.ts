import { useNavigate } from '@tanstack/react-router'
import { useRef, useState } from 'react'
import { isNoStep } from '../../shared/listState'
import { useView } from '../../shared/useView'
import type { Couple, DeskRow } from './actions'

/** What is shown first: where a person is needed most. */
function firstOpen(c: Couple['counts']) {
  if (c.likely > 0) return 'likely'
  if (c.ambiguous > 0) return 'ambiguous'
  if (c.certain > 0) return 'certain'
  return c.none > 0 ? 'none' : 'paired'
}

const sorts = ['likely', 'ambiguous', 'none', 'certain', 'waiting', 'setAside', 'toCreate', 'paired'] as const
type Sort = (typeof sorts)[number]

/** The list of the desk: what it shows, and which record is chosen in it. */
export function useDeskList(couple: Couple) {
  const [state, set] = useView('/pair-desk/$couple')
  const navigate = useNavigate({ from: '/pair-desk/$couple' })
  // What was opened first stays, also when its last record is decided.
  const [opened] = useState(() => firstOpen(couple.counts))
  const show = state.show ?? opened
  const side = show === 'none' ? state.kind : undefined
  const [found, setRow] = useState<DeskRow>()
  // Only what is chosen in the list as it is now can be decided; rows that were just decided wait to leave the list.
  const [decided, setDecided] = useState<ReadonlySet<string>>(new Set())
  const gone = found !== undefined && decided.has(found.id)
  return {
    state,
    show,
    side,
    query: { show, cause: state.cause, side, search: state.search },
    filtered: state.cause !== undefined || (state.search ?? '') !== '' || side !== undefined,
    row: found !== undefined && found.id === state.row && !gone ? found : undefined,
    steer: useRef<((by: number) => void) | null>(null),
    /** The next sort of records that has any, or the one before. */
    otherSort: (by: number) => () => {
      const filled = sorts.filter((s) => s === show || couple.counts[s] > 0)
      const next = filled[(filled.indexOf(show as Sort) + by + filled.length) % filled.length]
      if (next) void navigate({ search: { show: next } })
    },
    go: (change: typeof state) => void navigate({ search: { ...change }, replace: isNoStep(state, change) }),
    search: (search: string | undefined) => set({ search, row: undefined }, isNoStep(state, { search })),
    choose: (r: DeskRow) => set({ row: r.id }),
    review: () => void navigate({ search: { tab: 'review' } }),
    follow: setRow,
    leave: (id: string) => setDecided((old) => new Set([...old, id])),
    back: (id: string) => setDecided((old) => new Set([...old].filter((d) => d !== id))),
    forget: () => setDecided(new Set()),
  }
}

export type DeskList = ReturnType<typeof useDeskList>
