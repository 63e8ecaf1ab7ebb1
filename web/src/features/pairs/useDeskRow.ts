import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, take } from '../../shared/api'
import type { Couple, Decision, useDesk } from './actions'
import type { DeskList } from './useDeskList'

const undone = ['paired', 'kit', 'setAside', 'toCreate']

/** The chosen record: its seam, its candidates, and what can be decided about it. */
export function useDeskRow(couple: Couple, list: DeskList, desk: ReturnType<typeof useDesk>) {
  const { row } = list
  const [candidate, setCandidate] = useState<string>()
  const isOpen = row?.standing === 'open'
  const seamOf = (hub: string | undefined, other: string | undefined) =>
    take(api.GET('/api/couples/{id}/seam', { params: { path: { id: couple.id }, query: { hub, other } } }))
  const key = ['desk', couple.id, 'seam', row?.hubKey, row?.otherKey]
  const seam = useQuery({
    enabled: row !== undefined,
    queryKey: [...key, candidate],
    queryFn: () => seamOf(row?.hubKey ?? candidate, row?.hubKey ? (candidate ?? row.otherKey ?? undefined) : (row?.otherKey ?? undefined)),
    placeholderData: keepPreviousData,
  })
  const own = useQuery({
    enabled: isOpen,
    queryKey: [...key, undefined],
    queryFn: () => seamOf(row?.hubKey ?? undefined, row?.otherKey ?? undefined),
  })
  const candidates = isOpen ? (own.data?.candidates ?? []) : []
  const best = row?.hubKey && row.otherKey ? row.otherKey : undefined
  const across = candidate ?? best ?? candidates[0]?.key
  const taken = candidates.find((x) => x.key === across)?.taken ?? false

  const decide = (decision: Decision) => {
    if (desk.decide.isPending || !row) return
    const { id } = row
    desk.decide.mutate([decision], {
      onSuccess: () => {
        setCandidate(undefined)
        list.leave(id)
        list.steer.current?.(1)
      },
    })
  }
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
    accept: () => {
      if (!isOpen || !across || !row) return
      const [hubKey, otherKey] = row.hubKey ? [row.hubKey, across] : [across, row.otherKey as string]
      decide({ act: !row.hubKey && taken ? 'share' : 'accept', hubKey, otherKey, parts: null, reason: null })
    },
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
