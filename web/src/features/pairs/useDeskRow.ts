import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { queries } from '../../shared/queries'
import type { Couple, Decision, useDesk } from './actions'
import type { DeskList } from './useDeskList'

const undone = ['paired', 'kit', 'setAside', 'toCreate']

/**
 * Whoever presses faster than the next record comes into view means that one: the press waits for it. Another list is another matter.
 */
function useEarlyPresses(list: unknown, row: string | undefined, ready: boolean, act: () => boolean) {
  const waiting = useRef(0)
  const of = JSON.stringify(list)
  // biome-ignore lint/correctness/useExhaustiveDependencies: a press belongs to the list that it was pressed in
  useEffect(() => {
    waiting.current = 0
  }, [of])
  // biome-ignore lint/correctness/useExhaustiveDependencies: looks when the next record is ready
  useEffect(() => {
    if (!ready || waiting.current === 0) return
    waiting.current = act() ? waiting.current - 1 : 0
  }, [row, ready])
  return () => {
    if (!ready || waiting.current > 0) waiting.current++
    else act()
  }
}

/** The chosen record: its seam, its candidates, and what can be decided about it. */
export function useDeskRow(couple: Couple, list: DeskList, desk: ReturnType<typeof useDesk>) {
  const { row } = list
  const [candidate, setCandidate] = useState<string>()
  const isOpen = row?.standing === 'open'
  const [hub, other] = [row?.hubKey ?? undefined, row?.otherKey ?? undefined]
  const own = useQuery({
    enabled: isOpen,
    ...queries.deskSeam(couple.id, hub, other),
  })
  const candidates = isOpen ? (own.data?.candidates ?? []) : []
  const best = row?.hubKey && row.otherKey ? row.otherKey : undefined
  const across = candidate ?? best ?? candidates[0]?.key
  const taken = candidates.find((x) => x.key === across)?.taken ?? false
  // What is looked at beside the record: the candidate that was chosen, or else the first.
  const beside = across === best ? undefined : across
  const seam = useQuery({
    enabled: row !== undefined,
    ...queries.deskSeam(couple.id, hub ?? beside, hub ? (beside ?? other) : other),
    placeholderData: keepPreviousData,
  })

  // The record is left at once; the decision goes its way behind, in its turn. Where it is refused, the record is there again.
  const decide = (decision: Decision) => {
    if (!row) return
    const { id } = row
    setCandidate(undefined)
    list.leave(id)
    list.steer.current?.(1)
    desk.decide.mutateAsync([decision]).then(
      () => desk.isDeciding() || list.forget(),
      () => list.back(id),
    )
  }
  const accept = () => {
    if (!row || !isOpen || !across) return false
    const [hubKey, otherKey] = row.hubKey ? [row.hubKey, across] : [across, row.otherKey as string]
    decide({ act: !row.hubKey && taken ? 'share' : 'accept', hubKey, otherKey, parts: null, reason: null })
    return true
  }
  const early = useEarlyPresses(list.query, row?.id, row !== undefined && (across !== undefined || own.isFetched), accept)
  return {
    isOpen,
    seam,
    candidates,
    across,
    shares: !row?.hubKey && taken,
    canTakeBack: row !== undefined && undone.includes(row.standing),
    look: setCandidate,
    next: (by: number) => {
      const at = candidates.findIndex((x) => x.key === across)
      if (candidates.length > 0) setCandidate(candidates[(at + by + candidates.length) % candidates.length]?.key)
    },
    pick: (n: number) => candidates[n] && setCandidate(candidates[n].key),
    accept: early,
    takeBack: () => {
      if (!row || !undone.includes(row.standing)) return
      const linked = row.standing === 'paired' || row.standing === 'kit'
      decide({ act: 'unpair', hubKey: linked ? null : (row.hubKey ?? null), otherKey: row.otherKey ?? null, parts: null, reason: null })
    },
    create: () => {
      if (isOpen && row?.hubKey && !row.otherKey) decide({ act: 'create', hubKey: row.hubKey, otherKey: null, parts: null, reason: null })
    },
    setAside: (reason: string) => {
      if (!row) return
      // Of a proposed pair the hub's record is the one that is looked at.
      const otherKey = row.hubKey ? null : (row.otherKey ?? null)
      decide({ act: 'setAside', hubKey: row.hubKey ?? null, otherKey, parts: null, reason })
    },
    kit: (parts: Decision['parts']) => decide({ act: 'kit', hubKey: null, otherKey: row?.otherKey as string, parts, reason: null }),
  }
}

export type DeskChoice = ReturnType<typeof useDeskRow>
