/** Why a list was taken for what it is, and what to look at. */
export function Remarks({ of }: { of?: string[] }) {
  if (!of?.length) return null
  return <div className="line small dim">{of.map((r) => r[0]?.toUpperCase() + r.slice(1)).join('. ')}.</div>
}
