import type { Schemas, WriteRow } from '../../shared/api'

export type Ids = ReadonlySet<number>
type Line = Pick<WriteRow, 'id' | 'state' | 'guards'>

/** What a filter shows: what goes when nothing else is said, and what goes only where it is named. */
export type Found = Schemas['WriteIds']

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

/**
 * What a person chose of a change set: all that is plainly planned but some, or only some of it. What is held, what a guard points at
 * and what was not chosen the last time goes only where it is named.
 */
export type Choosing = {
  base: 'all' | 'none'
  /** The exceptions from the base. */
  turned: Ids
  named: Ids
}

/** Everything that is plainly planned, and nothing that has to be named. */
export const everything: Choosing = { base: 'all', turned: none, named: none }

/** No line at all, from where some are chosen one by one. */
export const nothing: Choosing = { base: 'none', turned: none, named: none }

/** Whether a line goes only where it is named. */
const byName = (w: Line) => w.state === 'held' || w.state === 'skipped' || (w.state === 'planned' && w.guards !== '')

/** How many lines are chosen, of so many that are plainly planned. */
export const chosenCount = ({ base, turned, named }: Choosing, plain: number) =>
  (plain === 0 ? 0 : base === 'all' ? plain - turned.size : turned.size) + named.size

/** Whether it is the choice that nobody has touched. */
export const isWhole = ({ base, turned, named }: Choosing, plain: number) =>
  (plain === 0 || (base === 'all' && turned.size === 0)) && named.size === 0

/** Whether a line is chosen. */
export const has = ({ base, turned, named }: Choosing, w: Line) =>
  byName(w) ? named.has(w.id) : w.state === 'planned' && turned.has(w.id) === (base === 'none')

/** With a line turned round. */
export function toggle(choosing: Choosing, w: Line): Choosing {
  if (byName(w)) return { ...choosing, named: flip(choosing.named, w.id) }
  return w.state === 'planned' ? { ...choosing, turned: flip(choosing.turned, w.id) } : choosing
}

/** Nothing but these. */
export const only = (found: Found): Choosing => ({
  base: 'none',
  turned: joined(none, found.plain),
  named: joined(none, found.byName),
})

/** These too. */
export const add = (choosing: Choosing, found: Found): Choosing => ({
  ...choosing,
  turned: choosing.base === 'all' ? less(choosing.turned, found.plain) : joined(choosing.turned, found.plain),
  named: joined(choosing.named, found.byName),
})

/** All but these. */
export const without = (choosing: Choosing, found: Found): Choosing => ({
  ...choosing,
  turned: choosing.base === 'all' ? joined(choosing.turned, found.plain) : less(choosing.turned, found.plain),
  named: less(choosing.named, found.byName),
})

/** As the server takes it; of a run that is done, only what is named. */
export function asked({ base, turned, named }: Choosing, ready: boolean): Schemas['Choice'] {
  if (ready && base === 'all') return { all: true, except: [...turned], only: [...named], withoutGuarded: true }
  return { all: false, except: null, only: ready ? [...turned, ...named] : [...named], withoutGuarded: false }
}
