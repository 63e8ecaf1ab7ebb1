import type { Schemas } from '../../shared/api'

export type RunDetail = Schemas['RunDetail']
export type ShownField = RunDetail['fields'][number]

/** Finds what a run says of a field, there or, for what flows back, at the source: its label, type and unit. */
export type FieldOf = (name: string | null | undefined, way: ShownField['way']) => ShownField | undefined

/** The fields of a run by name and side. */
export function fieldsOf(detail: RunDetail): FieldOf {
  const named = new Map(detail.fields.map((f) => [`${f.way} ${f.name}`, f]))
  return (name, way) => (name ? named.get(`${way} ${name}`) : undefined)
}

/** Every field that a run changes once, for choosing; both sides may call one the same. */
export const fieldNames = (detail: RunDetail) => [...new Map(detail.fields.map((f) => [f.name, f])).values()]

/** A field's label with its unit; its name where the run knows no more of it. */
export function labelOf(field: ShownField | undefined, name: string | null | undefined) {
  if (!field) return name ?? ''
  return field.unit ? `${field.label}, ${field.unit}` : field.label
}
