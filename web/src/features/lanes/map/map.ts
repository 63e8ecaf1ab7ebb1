import { useQuery } from '@tanstack/react-query'
import type { Schemas } from '../../../shared/api'
import { queries } from '../../../shared/queries'
import type { Crosswalk, FieldMap, FieldMapping } from '../draft'

export type MapChoices = Schemas['MapChoices']
export type Suggestion = Schemas['MapSuggestion']
export type StepKind = Schemas['StepKind']
export type MapStepOf = NonNullable<FieldMapping['steps']>[number]
export type Field = Schemas['FieldDescription']

export const mappingOf = (map: FieldMap | null, target: string) => map?.fields?.find((f) => f.target === target)

/** Puts a mapping in the place of the one for the same field; null takes it out. */
export const withMapping = (map: FieldMap, target: string, mapping: FieldMapping | null): FieldMap => {
  const fields = map.fields ?? []
  if (mapping === null) return { ...map, fields: fields.filter((f) => f.target !== target) }
  return {
    ...map,
    fields: fields.some((f) => f.target === target) ? fields.map((f) => (f.target === target ? mapping : f)) : [...fields, mapping],
  }
}

export const withCrosswalk = (map: FieldMap, crosswalk: Crosswalk): FieldMap => {
  const all = map.crosswalks ?? []
  return {
    ...map,
    crosswalks: all.some((c) => c.name === crosswalk.name)
      ? all.map((c) => (c.name === crosswalk.name ? crosswalk : c))
      : [...all, crosswalk],
  }
}

/** Takes suggestions into a map; a crosswalk that is there already keeps its entries. */
export const accept = (map: FieldMap, suggestions: Suggestion[]): FieldMap =>
  suggestions.reduce((m, s) => {
    const next = withMapping(m, s.mapping.target, s.mapping)
    return s.crosswalk && !(next.crosswalks ?? []).some((c) => c.name === s.crosswalk?.name) ? withCrosswalk(next, s.crosswalk) : next
  }, map)

/** Proposals for every field of the target; those that are mapped meanwhile are left out by the page. */
export const useSuggestions = (lane: string) =>
  useQuery({
    ...queries.suggestions(lane),
    staleTime: 60_000,
    retry: false,
  })

const records: Record<NonNullable<Schemas['SourceRecord']>, string> = {
  own: 'its own record',
  parent: 'the first of its group',
  stockLevels: 'its stock levels',
  there: 'the listing as it is there',
}
export const sourceRecords = records

/** Where a mapping takes its value from, in words. */
export function sourceWords(mapping: FieldMapping, choices: MapChoices) {
  const { constant, fields, record = 'own' } = mapping.source ?? {}
  if (constant !== null && constant !== undefined) return `“${constant}”`
  const known = record === 'there' ? choices.target.map((t) => t.field) : record === 'stockLevels' ? choices.levels : choices.source
  const names = (fields ?? []).map((f) => known.find((k) => k.name === f)?.label ?? f).join(', ')
  return names === '' ? 'nothing yet' : record === 'own' ? names : `${names} of ${records[record]}`
}
