import { Link } from '@tanstack/react-router'
import { count } from '../../shared/format'
import type { Open } from './standing'

/** A number of records that are not in step, which leads to them. */
export function OpenTag({ open: o }: { open: Open }) {
  return (
    <Link to="/runs/$run" params={{ run: String(o.run) }} search={o.search} className={`tag ${o.tone}`}>
      {count(o.count)} {o.word}
    </Link>
  )
}
