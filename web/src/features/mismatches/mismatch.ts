import { useQuery } from '@tanstack/react-query'
import type { Schemas } from '../../shared/api'
import { plural, value } from '../../shared/format'
import type { ViewOf } from '../../shared/listState'
import { queries } from '../../shared/queries'

export type Mismatch = Schemas['MismatchRow']
export type Cause = Schemas['CauseView']

/** What costs money or goodwill while nobody looks. */
export const harmsNow = new Set<Schemas['Harm']>(['oversold', 'wrongPrice', 'orderStuck', 'silent', 'stopped'])

export const kindWords: Record<Schemas['RecordKind'], string> = {
  item: 'items',
  stockLevel: 'stock levels',
  customer: 'customers',
  order: 'orders',
  creditNote: 'credit notes',
  payment: 'payments',
}

const moneyOf = (worth: Schemas['Amount'][]) => worth.map((w) => `${value(String(w.sum), 'money')} ${w.currency}`).join(' and ')

/** What does harm now, in words and money. */
export function harmWords({ harm, records: n, pieces, worth }: Schemas['HarmView']) {
  const money = moneyOf(worth)
  const one = n === 1
  const by = pieces ? `, by ${plural(pieces, 'piece')}` : ''
  if (harm === 'oversold') return `${plural(n, 'item')} can be sold more often than ${one ? 'it is' : 'they are'} there${by}`
  if (harm === 'wrongPrice')
    return `${plural(n, 'price')} ${one ? 'is' : 'are'} not as ${one ? 'it' : 'they'} should be${money && `, off by ${money}`}`
  if (harm === 'orderStuck') return `${plural(n, 'order')} ${one ? 'stands' : 'stand'} still${money && `, worth ${money}`}`
  if (harm === 'silent') return `${plural(n, 'system')} ${one ? 'does' : 'do'} not answer`
  return `${plural(n, 'time')} something was stopped, missed or left out`
}

/** Which others are to get the same: those alike to one, or all of its cause; as the address keeps it. */
export type Others = { of: string; scope: 'alike' | 'cause' }

export const othersOf = (text: string | undefined): Others | undefined =>
  text === undefined ? undefined : text.startsWith('cause-') ? { of: text.slice(6), scope: 'cause' } : { of: text, scope: 'alike' }

export const othersIn = ({ of, scope }: Others) => (scope === 'cause' ? `cause-${of}` : of)

/** A filter of mismatches, as the address keeps it. Where others are to get the same, exactly these are shown. */
export function filterOf(s: ViewOf<'/mismatches'>) {
  const others = othersOf(s.alike)
  const filter = { ...chosen(s), AlikeTo: undefined as number | undefined }
  if (!others) return filter
  const all = chosen({ cause: s.cause })
  return { ...all, AlikeTo: others.scope === 'alike' ? Number(others.of) : undefined }
}

const chosen = (s: ViewOf<'/mismatches'>) => ({
  State: s.show,
  Cause: s.cause,
  Harm: s.harm,
  System: s.store,
  Kind: s.kind,
  Lane: s.lane,
  Family: s.family,
  Owner: s.by,
  Subject: s.on,
  From: s.from,
  Search: s.search,
})

export type Filter = ReturnType<typeof filterOf>

const aboutCauses = (filter: Filter) => ({ ...filter, Cause: undefined, Subject: undefined, AlikeTo: undefined })

/** All causes under a filter, what harms most first. */
export const useCauses = (filter: Filter) =>
  useQuery({
    ...queries.causes(aboutCauses(filter)),
    placeholderData: (before) => before,
  })

/** One mismatch with both sides. */
export function useMismatch(id: string | undefined) {
  return useQuery({
    ...queries.mismatch(Number(id)),
    enabled: id !== undefined,
    placeholderData: (before) => before,
  })
}
