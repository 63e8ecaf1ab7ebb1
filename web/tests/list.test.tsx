// @vitest-environment happy-dom
import { MantineProvider } from '@mantine/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest'
import { LongTable } from '../src/shared/LongTable'
import type { Pages } from '../src/shared/queries'

type Row = { key: string }

// A page without a layout: what a list sees of itself is said.
const seen = { clientHeight: 360, clientWidth: 800 }
const kept = Object.fromEntries(Object.keys(seen).map((k) => [k, Object.getOwnPropertyDescriptor(HTMLElement.prototype, k)]))
beforeAll(() => {
  for (const [name, size] of Object.entries(seen))
    Object.defineProperty(HTMLElement.prototype, name, { configurable: true, get: () => size })
})
afterAll(() => {
  for (const [name, was] of Object.entries(kept)) if (was) Object.defineProperty(HTMLElement.prototype, name, was)
})
afterEach(cleanup)

function Records({ pages, mark }: { pages: Pages<Row>; mark: (row: Row) => void }) {
  const [chosen, choose] = useState<string>()
  return (
    <LongTable<Row>
      label="Records"
      pages={pages}
      columns={[{ key: 'key', head: 'Key', width: '1fr', cell: (r) => r.key }]}
      rowKey={(r) => r.key}
      chosen={chosen}
      open={(r) => choose(r.key)}
      mark={mark}
      empty={<span>nothing is here</span>}
    />
  )
}

function listOf(total: number) {
  const asked: number[] = []
  const marked: string[] = []
  const pages: Pages<Row> = (offset, limit) => ({
    queryKey: ['runs', total, offset, limit],
    queryFn: async () => {
      asked.push(offset)
      return { total, offset, rows: Array.from({ length: Math.min(limit, total - offset) }, (_, i) => ({ key: `r${offset + i}` })) }
    },
  })
  render(
    <MantineProvider env="test">
      <QueryClientProvider client={new QueryClient()}>
        <Records pages={pages} mark={(r) => marked.push(r.key)} />
      </QueryClientProvider>
    </MantineProvider>,
  )
  return { asked, marked }
}

const chosen = () => screen.getAllByRole('row').find((r) => r.getAttribute('aria-selected') === 'true')?.textContent

describe('a list of any length', () => {
  it('draws what is in view, and says how long it is', async () => {
    const { asked } = listOf(100_000)
    await screen.findByText('r0')
    expect(screen.getByRole('table').getAttribute('aria-rowcount')).toBe('100001')
    expect(screen.getAllByRole('row').length).toBeLessThan(60)
    expect(new Set(asked)).toEqual(new Set([0]))
  })

  it('is gone through by keys, from end to end', async () => {
    const { marked } = listOf(5)
    await screen.findByText('r0')
    screen.getByRole('rowgroup').focus()
    await userEvent.keyboard('k')
    expect(chosen()).toBe('r0')
    await userEvent.keyboard('jj{ArrowDown}')
    expect(chosen()).toBe('r3')
    await userEvent.keyboard(' jjj ')
    expect(chosen()).toBe('r4')
    expect(marked).toEqual(['r3', 'r4'])
  })

  it('says what it means that nothing is there', async () => {
    listOf(0)
    await waitFor(() => expect(screen.getByText('nothing is here')).toBeDefined())
  })
})
