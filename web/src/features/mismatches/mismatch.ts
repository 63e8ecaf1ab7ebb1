import { useQuery } from '@tanstack/react-query'
import type { Schemas } from '../../shared/api'
import type { ViewOf } from '../../shared/listState'
import { queries } from '../../shared/queries'

export type Mismatch = Schemas['MismatchRow']
export type Cause = Schemas['CauseView']

export const kindWords: Record<Schemas['RecordKind'], string> = {
  item: 'items',
  stockLevel: 'stock levels',
  customer: 'customers',
  order: 'orders',
  creditNote: 'credit notes',
  payment: 'payments',
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
