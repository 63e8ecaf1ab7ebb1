import { useState } from 'react'
import type { WriteRow } from '../../shared/api'
import {
  add,
  asked,
  chosenCount,
  everything,
  type Found,
  flip,
  has,
  type Ids,
  isWhole,
  joined,
  less,
  none,
  nothing,
  only,
  toggle,
  without,
} from './choice'

/** What a person chooses of a change set while they look at it, of so many lines that are plainly planned. */
export function useChoice(plain: number) {
  const [choosing, set] = useState(everything)
  return {
    named: choosing.named.size,
    count: chosenCount(choosing, plain),
    whole: isWhole(choosing, plain),
    has: (w: WriteRow) => has(choosing, w),
    toggle: (w: WriteRow) => set((c) => toggle(c, w)),
    only: (found: Found) => set(only(found)),
    add: (found: Found) => set((c) => add(c, found)),
    without: (found: Found) => set((c) => without(c, found)),
    all: () => set(everything),
    none: () => set(nothing),
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
    only: (found: Found) => setNamed(joined(none, found.plain)),
    add: (found: Found) => setNamed((set) => joined(set, found.plain)),
    without: (found: Found) => setNamed((set) => less(set, found.plain)),
    all: () => setNamed(none),
    asked: () => (named.size > 0 ? [...named] : null),
  }
}
