import { useState } from 'react'
import type { WriteRow } from '../../shared/api'
import { add, asked, chosenCount, everything, flip, has, type Ids, isWhole, joined, less, none, only, toggle, without } from './choice'

/** What a person chooses of a change set while they look at it. */
export function useChoice(planned: number) {
  const [choosing, set] = useState(everything)
  return {
    held: choosing.held.size,
    count: chosenCount(choosing, planned),
    whole: isWhole(choosing, planned),
    has: (w: WriteRow) => has(choosing, w),
    toggle: (w: WriteRow) => set((c) => toggle(c, w)),
    only: (ids: number[]) => set(only(ids)),
    add: (ids: number[]) => set((c) => add(c, ids)),
    without: (ids: number[]) => set((c) => without(c, ids)),
    addHeld: (ids: number[]) => set((c) => ({ ...c, held: joined(c.held, ids) })),
    withoutHeld: (ids: number[]) => set((c) => ({ ...c, held: less(c.held, ids) })),
    all: () => set(everything),
    asked: (ready: boolean) => asked(choosing, ready),
  }
}

/** The writes of a run that a person wants to take back; none named: all. */
export function useTakenBack() {
  const [named, setNamed] = useState<Ids>(none)
  return {
    count: named.size,
    has: (w: WriteRow) => named.has(w.id),
    toggle: (w: WriteRow) => setNamed((set) => flip(set, w.id)),
    only: (ids: number[]) => setNamed(joined(none, ids)),
    add: (ids: number[]) => setNamed((set) => joined(set, ids)),
    without: (ids: number[]) => setNamed((set) => less(set, ids)),
    all: () => setNamed(none),
    asked: () => (named.size > 0 ? [...named] : null),
  }
}
