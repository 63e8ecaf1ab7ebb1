import { Button, Loader } from '@mantine/core'
import type { UseQueryResult } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Refusal } from './api'

/** Nothing here, why, and what to do next. */
export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="empty">
      <div className="strong" style={{ color: 'var(--ink)' }}>
        {title}
      </div>
      {children}
    </div>
  )
}

export function Failed({ error, again }: { error: unknown; again?: () => void }) {
  const title = error instanceof Refusal ? error.title : 'Something went wrong'
  return (
    <div className="note harm" role="alert">
      <span className="strong">{title}.</span>
      <span className="grow">{error instanceof Error ? error.message : String(error)}</span>
      {again && <Button onClick={again}>Try again</Button>}
    </div>
  )
}

/** Shows what a query brought, or that it is still on its way, or why it failed. */
export function Loaded<T>({ of, children }: { of: UseQueryResult<T>; children: (data: T) => ReactNode }) {
  if (of.data !== undefined) return <>{children(of.data)}</>
  if (of.isError) return <Failed error={of.error} again={() => void of.refetch()} />
  return (
    <div className="empty" role="status">
      <Loader size="sm" color="var(--ink-2)" />
      Loading
    </div>
  )
}
