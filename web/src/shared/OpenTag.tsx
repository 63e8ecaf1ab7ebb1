import { Tooltip } from '@mantine/core'
import { Link } from '@tanstack/react-router'
import { count } from './format'
import type { Open } from './standing'
import { words } from './words'

/** A number of records that are not in step, which leads to them. */
export function OpenTag({ open: o }: { open: Open }) {
  return (
    <Tooltip label={words[o.means]} multiline w={280} withArrow openDelay={400} events={{ hover: true, focus: true, touch: false }}>
      {o.run === undefined ? (
        <Link to="/mismatches" search={o.search} className={`tag ${o.tone}`}>
          {count(o.count)} {o.word}
        </Link>
      ) : (
        <Link to="/runs/$run" params={{ run: String(o.run) }} search={o.search} className={`tag ${o.tone}`}>
          {count(o.count)} {o.word}
        </Link>
      )}
    </Tooltip>
  )
}
