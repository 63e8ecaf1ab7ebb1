const list = ['show', 'search', 'row'] as const
const turns = ['tab', 'search', 'kind', 'store', 'cause'] as const
const changes = [...list, 'cause', 'sort', 'field', 'kind', 'tab', 'least'] as const

/** What the address of each page may say of what it shows. */
const views = {
  '/': [],
  '/systems': [],
  '/systems/new': ['show'],
  '/granted': [],
  '/systems/$system': [...list, 'kind', 'tab'],
  '/systems/$system/describe': ['row'],
  '/systems/$system/records/$key': ['field', 'on'],
  '/synced': [...list, 'category', 'location', 'store', 'keptOff'],
  '/exposure': [...list, 'sort'],
  '/mismatches': [...list, 'cause', 'harm', 'store', 'kind', 'lane', 'family', 'by', 'on', 'from', 'alike', 'tab'],
  '/proof': [],
  '/proof/$proof': list,
  '/orders': [...list, 'lane', 'cause', 'from', 'until', 'least', 'most', 'currency'],
  '/orders/$lane/$order': [],
  '/lanes': ['tab', 'kind', 'store'],
  '/lanes/$lane/scope': [],
  '/lanes/$lane/pairs': list,
  '/lanes/$lane/rule': [],
  '/lanes/$lane/map': [...list, 'field'],
  '/lanes/$lane/crosswalks': [...list, 'tab'],
  '/lanes/$lane/guards': [],
  '/lanes/$lane/preview': changes,
  '/lanes/$lane/timetable': [],
  '/lanes/$lane/runs': [],
  '/lanes/$lane/versions': ['row', 'tab'],
  '/pair-desk': [],
  '/pair-desk/$couple': [...list, 'cause', 'kind', 'tab'],
  '/items/$item': [],
  '/timetable': [...list, ...turns, 'on'],
  '/timetable/new': ['lane'],
  '/timetable/$job': [...turns, 'row', 'lane'],
  '/runs': ['show', 'lane', 'by', 'from', 'until'],
  '/runs/$run': changes,
  '/written': [...list, 'from'],
  '/settings': [],
  '/settings/told': [],
  '/help': [],
} as const

export type Page = keyof typeof views

/** What a page shows is in its address, so that a link to it can be sent to a colleague. */
export type ViewOf<P extends Page> = { [W in (typeof views)[P][number]]?: string }

/** What any page may say of a list. */
export type ListState = { [W in (typeof views)[Page][number]]?: string }

/** Takes from an address what says something about a page. */
export const readView =
  <P extends Page>(page: P) =>
  (from: Record<string, unknown>) =>
    Object.fromEntries(views[page].filter((w) => from[w] !== undefined).map((w) => [w, String(from[w])])) as ViewOf<P>

/**
 * Whether a change of what a list shows is no step of its own: another row of the same list, another letter of the same search. Any
 * other is one, so that going back takes the filter away before it leaves the page.
 */
export const isNoStep = (state: ListState, change: ListState) =>
  Object.entries(change).every(([word, to]) => {
    const at = state[word as keyof ListState]
    return word === 'row' || at === to || (word === 'search' && Boolean(at) && Boolean(to))
  })
