import { VisuallyHidden } from '@mantine/core'
import { useQueries, useQuery } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import { type KeyboardEvent, type ReactNode, type RefObject, useEffect, useRef } from 'react'
import type { Pages, Slice } from './queries'
import { Failed } from './states'

const pageSize = 100
const rowHeight = 36
const tallHeight = 54

export type Column<T> = {
  key: string
  head: string
  width: string
  numeric?: boolean
  /** The head is for screen readers only; the cells speak for themselves. */
  hidden?: boolean
  /** What stands in the head in place of its text. */
  headCell?: ReactNode
  /** The sort word to ask for; a minus in front turns it round. */
  sort?: string
  cell: (row: T) => ReactNode
}

/** What a list asks for first; it says how many there are. */
export const firstOf = <T, S extends Slice<T>>(pages: Pages<T, S>) => pages(0, pageSize)

/** A list of any length: rows are fetched a page at a time as they come into view. j, k and the arrows move, Enter opens, Space marks. */
export function LongTable<T>(props: {
  label: string
  pages: Pages<T>
  columns: Column<T>[]
  rowKey: (row: T) => string
  chosen?: string
  open?: (row: T) => void
  mark?: (row: T) => void
  sort?: string
  setSort?: (sort: string) => void
  /** Rows of two lines, without a head. */
  tall?: boolean
  /** Keeps a row chosen: where the chosen one goes away, the next one takes its place. Told which row that is. */
  follow?: (row: T | undefined) => void
  /** Lets the page move the choice. */
  steer?: RefObject<((by: number) => void) | null>
  empty: ReactNode
}) {
  const body = useRef<HTMLDivElement>(null)
  const first = useQuery(props.pages(0, pageSize))
  const total = first.data?.total ?? 0
  const rows = useVirtualizer({
    count: total,
    getScrollElement: () => body.current,
    estimateSize: () => (props.tall ? tallHeight : rowHeight),
    overscan: 15,
  })
  const seen = rows.getVirtualItems()
  const from = Math.floor((seen[0]?.index ?? 0) / pageSize)
  const until = Math.floor((seen.at(-1)?.index ?? 0) / pageSize)
  const numbers = Array.from({ length: until - from + 1 }, (_, i) => from + i)
  const pages = useQueries({
    queries: numbers.map((n) => ({ ...props.pages(n * pageSize, pageSize), staleTime: 5000 })),
  })
  const at = (index: number): T | undefined =>
    pages[Math.floor(index / pageSize) - from]?.data?.rows[index % pageSize] ?? (index < pageSize ? first.data?.rows[index] : undefined)

  const last = useRef(0)
  const { follow, open, chosen, rowKey } = props
  const fresh = `${first.dataUpdatedAt} ${pages.map((p) => p.dataUpdatedAt).join(' ')}`
  // biome-ignore lint/correctness/useExhaustiveDependencies: looks again when rows came, or another one is chosen
  useEffect(() => {
    if (!follow || !first.data) return
    const loaded = [
      ...first.data.rows.map((r, i) => [i, r] as const),
      ...pages.flatMap((p, n) => p.data?.rows.map((r, i) => [(from + n) * pageSize + i, r] as const) ?? []),
    ]
    const hit = loaded.find(([, r]) => rowKey(r) === chosen)
    if (hit) {
      last.current = hit[0]
      follow(hit[1])
      return
    }
    const next = at(Math.max(0, Math.min(last.current, total - 1)))
    if (next) open?.(next)
    else if (total === 0) follow(undefined)
  }, [fresh, chosen])

  const template = props.columns.map((c) => c.width).join(' ')
  const position = () => {
    for (const item of seen) {
      const row = at(item.index)
      if (row && props.rowKey(row) === props.chosen) return item.index
    }
    return -1
  }
  const step = (by: number) => {
    const next = Math.max(0, Math.min(total - 1, position() + by))
    const row = at(next)
    if (!row) return
    rows.scrollToIndex(next)
    props.open?.(row)
  }
  useEffect(() => {
    if (props.steer) props.steer.current = step
  })
  const press = (e: KeyboardEvent) => {
    if (e.target !== e.currentTarget && e.key !== 'j' && e.key !== 'k') return
    if (e.key === 'j' || e.key === 'ArrowDown') step(1)
    else if (e.key === 'k' || e.key === 'ArrowUp') step(-1)
    else if (e.key === ' ') {
      const row = at(position())
      if (row) props.mark?.(row)
    } else return
    e.preventDefault()
  }

  if (first.isError) return <Failed error={first.error} again={() => void first.refetch()} />
  return (
    <div className="table" role="table" aria-label={props.label} aria-rowcount={total + 1}>
      <div
        className={props.tall ? 'table-head out-of-sight' : 'table-head'}
        role="row"
        style={{ gridTemplateColumns: template }}
        aria-rowindex={1}
      >
        {props.columns.map((c) => (
          <span
            key={c.key}
            role="columnheader"
            className={c.numeric ? 'num' : undefined}
            aria-sort={!c.sort ? undefined : props.sort === c.sort ? 'ascending' : props.sort === `-${c.sort}` ? 'descending' : undefined}
          >
            {c.sort && props.setSort ? (
              <button type="button" onClick={() => props.setSort?.(props.sort === `-${c.sort}` ? (c.sort as string) : `-${c.sort}`)}>
                {c.head}
                {props.sort === c.sort ? ' ↑' : props.sort === `-${c.sort}` ? ' ↓' : ''}
              </button>
            ) : c.headCell ? (
              c.headCell
            ) : c.hidden ? (
              <VisuallyHidden>{c.head}</VisuallyHidden>
            ) : (
              c.head
            )}
          </span>
        ))}
      </div>
      {first.data && total === 0 ? (
        <div role="row">
          <div role="cell">{props.empty}</div>
        </div>
      ) : (
        <div ref={body} className="table-body" role="rowgroup" tabIndex={0} onKeyDown={press} aria-label={props.label}>
          <div style={{ height: rows.getTotalSize(), position: 'relative' }} role="presentation">
            {seen.map((item) => {
              const row = at(item.index)
              const place = { transform: `translateY(${item.start}px)`, gridTemplateColumns: template }
              if (!row)
                return (
                  <div key={item.key} className="table-row dim" role="row" style={place}>
                    <span role="cell">…</span>
                  </div>
                )
              const key = props.rowKey(row)
              return (
                <div
                  key={item.key}
                  role="row"
                  aria-rowindex={item.index + 2}
                  aria-selected={props.chosen === key}
                  className={`table-row${props.open ? ' opens' : ''}${props.tall ? ' tall' : ''}`}
                  style={place}
                  data-key={key}
                  onClick={() => props.open?.(row)}
                >
                  {props.columns.map((c) => (
                    <span key={c.key} role="cell" className={c.numeric ? 'cell num' : 'cell'}>
                      {c.cell(row)}
                    </span>
                  ))}
                </div>
              )
            })}
          </div>
        </div>
      )}
    </div>
  )
}
