import type { Schemas, WriteRow } from '../../shared/api'

export type Ids = ReadonlySet<number>
type Line = Pick<WriteRow, 'id' | 'state'>

/** No line. */
export const none: Ids = new Set()

/** With one more, or without it. */
export const flip = (set: Ids, id: number): Ids => (set.has(id) ? less(set, [id]) : joined(set, [id]))
export const joined = (set: Ids, ids: Iterable<number>): Ids => new Set([...set, ...ids])
export const less = (set: Ids, ids: Iterable<number>): Ids => {
  const left = new Set(set)
  for (const id of ids) left.delete(id)
  return left
}

/** What a person chose of a change set: all that is planned but some, or only some of it; what is held only where it is named. */
export type Choosing = {
  base: 'all' | 'none'
  /** The exceptions from the base. */
  turned: Ids
  held: Ids
}

/** Everything that is planned, and nothing that is held. */
export const everything: Choosing = { base: 'all', turned: none, held: none }

/** How many lines are chosen. Once it is decided, nothing is planned any more, and there is nothing to except from. */
export function chosenCount({ base, turned, held }: Choosing, planned: number) {
  const open = planned === 0 ? 0 : base === 'all' ? planned - turned.size : turned.size
  return open + held.size
}

/** Whether it is the choice that nobody has touched. */
export const isWhole = ({ base, turned, held }: Choosing, planned: number) =>
  (planned === 0 || (base === 'all' && turned.size === 0)) && held.size === 0

/** Whether a line is chosen. */
export const has = ({ base, turned, held }: Choosing, w: Line) =>
  w.state === 'held' ? held.has(w.id) : w.state === 'planned' && turned.has(w.id) === (base === 'none')

/** With a line turned round. */
export function toggle(choosing: Choosing, w: Line): Choosing {
  if (w.state === 'held') return { ...choosing, held: flip(choosing.held, w.id) }
  return w.state === 'planned' ? { ...choosing, turned: flip(choosing.turned, w.id) } : choosing
}

/** Nothing but these. */
export const only = (ids: Iterable<number>): Choosing => ({ base: 'none', turned: joined(none, ids), held: none })

/** These too. */
export const add = (choosing: Choosing, ids: Iterable<number>): Choosing => ({
  ...choosing,
  turned: choosing.base === 'all' ? less(choosing.turned, ids) : joined(choosing.turned, ids),
})

/** All but these. */
export const without = (choosing: Choosing, ids: Iterable<number>): Choosing => ({
  ...choosing,
  turned: choosing.base === 'all' ? joined(choosing.turned, ids) : less(choosing.turned, ids),
})

/** As the server takes it; of a run that is done, only what it had held may still be sent. */
export function asked({ base, turned, held }: Choosing, ready: boolean): Schemas['Choice'] {
  if (ready && base === 'all') return { all: true, except: [...turned], only: [...held], withoutGuarded: false }
  return { all: false, except: null, only: ready ? [...turned, ...held] : [...held], withoutGuarded: false }
}
