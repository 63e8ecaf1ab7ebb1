// @vitest-environment happy-dom
import { MantineProvider } from '@mantine/core'
import { cleanup, render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { type ReactNode, useState } from 'react'
import { afterEach, describe, expect, it } from 'vitest'
import type { Choices, PriceRule } from '../src/features/lanes/draft'
import { OrderForm } from '../src/features/lanes/order/OrderForm'
import type { Policy } from '../src/features/lanes/order/Step'
import { PriceForm } from '../src/features/lanes/price/PriceForm'

afterEach(cleanup)
// Fields that grow wait for fonts, which a page without a layout has none of.
Object.assign(document, { fonts: new EventTarget() })

const show = (page: ReactNode) => render(<MantineProvider env="test">{page}</MantineProvider>)

const choices = { priceLists: ['retail', 'trade'], targetLists: [], groups: [], sourceUnit: 'EUR' } as unknown as Choices

/** A form with its rule in hand, as a lane's page has it. */
function Priced({ begun, tell }: { begun: PriceRule; tell: (rule: PriceRule) => void }) {
  const [rule, set] = useState(begun)
  tell(rule)
  return <PriceForm rule={rule} set={set} choices={choices} faults={[]} />
}

function priced(begun: PriceRule) {
  const now = { rule: begun }
  show(
    <Priced
      begun={begun}
      tell={(rule) => {
        now.rule = rule
      }}
    />,
  )
  return () => now.rule
}

const field = (name: string) => screen.getByLabelText<HTMLInputElement>(name)

describe('a band of a price rule', () => {
  it('says a change in percent and its factor as one thing', async () => {
    const rule = priced({ bands: [{ from: '0', to: null, multiply: '1', add: '0' }] })
    await userEvent.type(field('Band 1 change in percent'), '18')
    expect(rule().bands?.[0]?.multiply).toBe('1.18')
    expect(field('Band 1 factor').value).toBe('1.18')
    expect(screen.getByText('+18 %: 10.00 becomes 11.80')).toBeDefined()

    await userEvent.clear(field('Band 1 factor'))
    await userEvent.type(field('Band 1 factor'), '8')
    expect(field('Band 1 change in percent').value).toBe('+700')
    expect(screen.getByText('+700 %: 10.00 becomes 80.00')).toBeDefined()
  })

  it('leaves what is being typed as it is typed, with a comma for a point', async () => {
    const rule = priced({ bands: [{ from: '0', to: null, multiply: '1', add: '0' }] })
    await userEvent.clear(field('Band 1 change in percent'))
    await userEvent.type(field('Band 1 change in percent'), '+1,')
    expect(field('Band 1 change in percent').value).toBe('+1,')
    await userEvent.type(field('Band 1 change in percent'), '5')
    expect(rule().bands?.[0]?.multiply).toBe('1.015')
    await userEvent.tab()
    expect(field('Band 1 change in percent').value).toBe('+1.5')
  })

  it('is taken out by itself, and the next begins where the last ends', async () => {
    const rule = priced({ bands: ['0', '20'].map((from, i) => ({ from, to: i === 0 ? '20' : '50', multiply: `1.${i + 1}`, add: '0' })) })
    await userEvent.click(screen.getByText('Add a band'))
    expect(rule().bands?.[2]?.from).toBe('50')
    await userEvent.click(screen.getByLabelText('Remove band 1'))
    expect(rule().bands?.map((b) => b.from)).toEqual(['20', '50'])
  })
})

const zones = () => screen.getByRole<HTMLTextAreaElement>('textbox', { name: 'Shipping zones' })

function Ordered({ begun, tell }: { begun: Policy; tell: (policy: Policy) => void }) {
  const [policy, set] = useState(begun)
  tell(policy)
  return <OrderForm policy={policy} set={set} faults={[]} currency="EUR" met={{ states: [{ word: 'open', count: 3 }] } as never} />
}

function ordered(begun: Policy) {
  const now = { policy: begun }
  show(
    <Ordered
      begun={begun}
      tell={(policy) => {
        now.policy = policy
      }}
    />,
  )
  return () => now.policy
}

describe('the form of an order rule', () => {
  it('keeps shipping zones as they are typed until the field is left', async () => {
    const policy = ordered({ rule: {} } as Policy)
    await userEvent.type(zones(), 'ie;bt1')
    expect(zones().value).toBe('ie;bt1')
    expect(policy().rule.zones).toEqual([expect.objectContaining({ country: 'IE' })])
    await userEvent.tab()
    expect(zones().value).toContain('IE')
  })

  it('asks for an address only where one is to stand in', async () => {
    const policy = ordered({ rule: {} } as Policy)
    expect(screen.queryByLabelText('Address in its place: city')).toBeNull()
    await userEvent.click(screen.getAllByText('use this address')[0] as HTMLElement)
    await userEvent.type(field('Address in its place: city'), 'Quay')
    expect(policy().rule.placeholder?.city).toBe('Quay')
    expect(policy().rule.outsideZone).toBe('placeholder')
  })

  it('changes one thing and leaves the rest of the rule', async () => {
    const policy = ordered({ rule: { number: 'W{number}' }, comments: false } as Policy)
    await userEvent.click(field('tell the store of shipments'))
    expect(policy()).toMatchObject({ rule: { number: 'W{number}' }, comments: false, back: { shipments: false } })
  })

  it('says how many orders have a word', () => {
    ordered({ rule: {} } as Policy)
    expect(screen.getByText('3 orders')).toBeDefined()
  })
})
