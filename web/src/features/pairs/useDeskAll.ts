import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { queries } from '../../shared/queries'
import type { Couple, useDesk } from './actions'
import type { DeskList } from './useDeskList'

/** What can be done to everything in the list at once. */
export function useDeskAll(couple: Couple, list: DeskList, desk: ReturnType<typeof useDesk>) {
  const { show, side, state } = list
  const pairs = show === 'certain' || show === 'likely'
  const alone = show === 'none'
  // How many the question is about; what it said is what is done.
  const [asked, setAsked] = useState(0)
  const total = useQuery({
    enabled: pairs || alone,
    ...queries.deskRows(couple.id, list.query)(0, 1),
  })
  const counted = total.isFetching ? 0 : (total.data?.total ?? 0)
  // While it is counted anew there is no number to agree to.
  const number = list.filtered || alone ? counted : show === 'certain' ? couple.counts.certain : couple.counts.likely
  const all = (act: 'accept' | 'setAside', reason: string | null, expected: number) =>
    desk.decideAll.mutate({
      act,
      reason,
      show,
      cause: state.cause ?? null,
      side: side ?? null,
      search: state.search ?? null,
      expected,
    })
  return {
    number,
    asked,
    isPending: desk.decideAll.isPending,
    canAccept: pairs && number > 0,
    canSetAside: alone && side !== undefined && number > 0,
    accept: () => {
      if (pairs && number > 0) all('accept', null, number)
    },
    ask: () => {
      if (alone && side !== undefined) setAsked(number)
    },
    forget: () => setAsked(0),
    setAside: (reason: string) => {
      setAsked(0)
      all('setAside', reason, asked)
    },
  }
}

export type DeskAll = ReturnType<typeof useDeskAll>
