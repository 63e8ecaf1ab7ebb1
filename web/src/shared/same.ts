/** Whether two documents say the same: what is null, missing or empty is nothing, and names may stand in any order. */
export const same = (a: unknown, b: unknown) => JSON.stringify(plain(a)) === JSON.stringify(plain(b))

function plain(value: unknown): unknown {
  if (Array.isArray(value)) return value.length === 0 ? undefined : value.map((v) => plain(v) ?? null)
  if (value === null || typeof value !== 'object') return value ?? undefined
  const parts = Object.entries(value)
    .map(([name, v]) => [name, plain(v)] as const)
    .filter(([, v]) => v !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1))
  return parts.length === 0 ? undefined : Object.fromEntries(parts)
}
