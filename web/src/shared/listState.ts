const words = [
  'show',
  'search',
  'sort',
  'row',
  'tab',
  'cause',
  'harm',
  'family',
  'kind',
  'field',
  'least',
  'most',
  'on',
  'lane',
  'alike',
  'by',
  'from',
  'until',
  'category',
  'location',
  'store',
  'keptOff',
] as const

/** What a list shows is in the address, so that a link to it can be sent to a colleague. */
export type ListState = Partial<Record<(typeof words)[number], string>>

/** Takes from an address what says something about a list. */
export const listState = (from: Record<string, unknown>): ListState =>
  Object.fromEntries(words.filter((w) => from[w] !== undefined).map((w) => [w, String(from[w])]))

/**
 * Whether a change of what a list shows is no step of its own: another row of the same list, another letter of the same search. Any
 * other is one, so that going back takes the filter away before it leaves the page.
 */
export const isNoStep = (state: ListState, change: ListState) =>
  Object.entries(change).every(([word, to]) => {
    const at = state[word as keyof ListState]
    return word === 'row' || at === to || (word === 'search' && Boolean(at) && Boolean(to))
  })
