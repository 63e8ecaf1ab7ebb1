import { useState } from 'react'
import type { Schemas, WriteRow } from '../../shared/api'

type Ids = ReadonlySet<number>

const nothing: Ids = new Set()

const flip = (set: Ids, id: number): Ids => {
  const next = new Set(set)
  if (!next.delete(id)) next.add(id)
  return next
}
const joined = (set: Ids, ids: Iterable<number>): Ids => new Set([...set, ...ids])
const less = (set: Ids, ids: Iterable<number>): Ids => {
  const next = new Set(set)
  for (const id of ids) next.delete(id)
  return next
}

/** What a person chose of a change set: all that is planned but some, or only some of it; what is held only where it is named. */
export function useChoice(planned: number) {
  const [base, setBase] = useState<'all' | 'none'>('all')
  // The exceptions from the base.
  const [turned, setTurned] = useState<Ids>(nothing)
  const [held, setHeld] = useState<Ids>(nothing)
  // Once it is decided, there is nothing to except from.
  const open = planned > 0
  const chosen = !open ? 0 : base === 'all' ? planned - turned.size : turned.size
  return {
    held: held.size,
    count: chosen + held.size,
    whole: (!open || (base === 'all' && turned.size === 0)) && held.size === 0,
    has: (w: WriteRow) => (w.state === 'held' ? held.has(w.id) : w.state === 'planned' && turned.has(w.id) === (base === 'none')),
    toggle: (w: WriteRow) => {
      if (w.state === 'held') setHeld((set) => flip(set, w.id))
      if (w.state === 'planned') setTurned((set) => flip(set, w.id))
    },
    only: (ids: number[]) => {
      setBase('none')
      setTurned(new Set(ids))
      setHeld(nothing)
    },
    add: (ids: number[]) => setTurned((set) => (base === 'all' ? less(set, ids) : joined(set, ids))),
    without: (ids: number[]) => setTurned((set) => (base === 'all' ? joined(set, ids) : less(set, ids))),
    addHeld: (ids: number[]) => setHeld((set) => joined(set, ids)),
    withoutHeld: (ids: number[]) => setHeld((set) => less(set, ids)),
    all: () => {
      setBase('all')
      setTurned(nothing)
      setHeld(nothing)
    },
    /** As the server takes it; of a run that is done, only what it had held may still be sent. */
    asked: (ready: boolean): Schemas['Choice'] =>
      ready && base === 'all'
        ? { all: true, except: [...turned], only: [...held], withoutGuarded: false }
        : { all: false, except: null, only: ready ? [...turned, ...held] : [...held], withoutGuarded: false },
  }
}

/** The writes of a run that a person wants to take back; none named: all. */
export function useTakenBack() {
  const [named, setNamed] = useState<Ids>(nothing)
  return {
    count: named.size,
    has: (w: WriteRow) => named.has(w.id),
    toggle: (w: WriteRow) => setNamed((set) => flip(set, w.id)),
    only: (ids: number[]) => setNamed(new Set(ids)),
    add: (ids: number[]) => setNamed((set) => joined(set, ids)),
    without: (ids: number[]) => setNamed((set) => less(set, ids)),
    all: () => setNamed(nothing),
    asked: () => (named.size > 0 ? [...named] : null),
  }
}
