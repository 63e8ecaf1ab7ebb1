import { Checkbox, MultiSelect, SegmentedControl, Select, Switch, Textarea, TextInput } from '@mantine/core'
import { type ReactNode, useState } from 'react'
import type { Schemas } from '../../../shared/api'
import { instantOf, shownOf } from '../../../shared/format'
import { AfterForm } from './AfterForm'
import { CodeTable, PastedCodes, typedCode } from './CodeTable'
import { zonesOf, zonesText } from './zones'

type Policy = Schemas['LaneDocumentOrderPolicy']
type Rule = Schemas['OrderRule']
type Outcome = Schemas['OrderOutcome']
type Faults = Schemas['RuleFault'][]

const outcomes: { value: Outcome; label: string }[] = [
  { value: 'take', label: 'take' },
  { value: 'wait', label: 'wait' },
  { value: 'hold', label: 'hold' },
  { value: 'skip', label: 'skip' },
]

const usualPayments: Record<string, Outcome> = {
  paid: 'take',
  authorised: 'take',
  pending: 'wait',
  partial: 'wait',
  failed: 'hold',
  refunded: 'skip',
}

const keys = [
  { value: 'account', label: 'account' },
  { value: 'email', label: 'email' },
  { value: 'phone', label: 'phone' },
  { value: 'nameAndPostcode', label: 'name and postcode' },
]

const outcome = (what: string, fallback: (word: string) => Outcome) => {
  const Choose = (word: string, meaning: Outcome | undefined, set: (m: Outcome | undefined) => void) => (
    <Select
      aria-label={`${what} ${word}`}
      size="xs"
      data={outcomes}
      value={meaning ?? null}
      clearable
      placeholder={`${fallback(word)} (usual)`}
      onChange={(v) => set((v as Outcome | null) ?? undefined)}
    />
  )
  return Choose
}

/** An order rule in the order of its steps, in plain words. */
export function OrderForm(props: { policy: Policy; set: (policy: Policy) => void; met?: Schemas['MetWords']; faults: Faults }) {
  const { policy, met, faults } = props
  const rule = policy.rule
  const back = policy.back ?? {}
  const set = (change: Partial<Rule>) => props.set({ ...policy, rule: { ...rule, ...change } })
  const setBack = (change: Partial<Policy['back']>) => props.set({ ...policy, back: { ...back, ...change } as Policy['back'] })
  const tax = rule.tax ?? {}
  const customer = rule.customer ?? {}
  const faultAt = (path: string) => faults.some((f) => f.severity === 'refuse' && f.path.startsWith(path))
  const text = (
    label: string,
    key: 'otherMethod' | 'otherShipping' | 'useItem' | 'shippingItem' | 'discountItem' | 'feeItem',
    hint: string,
  ) => (
    <TextInput
      aria-label={label}
      placeholder={hint}
      w={190}
      value={rule[key] ?? ''}
      error={faultAt(key)}
      onChange={(e) => set({ [key]: e.currentTarget.value || null })}
    />
  )
  return (
    <div className="stack">
      <Step name="From when on">
        <TextInput
          aria-label="Cut-off"
          type="datetime-local"
          w={210}
          value={rule.cutOff ? shownOf(rule.cutOff) : ''}
          onChange={(e) => set({ cutOff: e.currentTarget.value ? instantOf(e.currentTarget.value) : null })}
        />
        <span className="dim small">orders placed before are left alone</span>
      </Step>
      <Step name="State of the order" wide>
        <CodeTable
          label="States"
          met={met?.states ?? []}
          codes={(rule.states ?? {}) as Record<string, Outcome>}
          set={(states) => set({ states })}
          choose={outcome('State', () => rule.otherState ?? 'hold')}
        />
        <div className="row">
          <span>any other state</span>
          <SegmentedControl
            aria-label="Any other state"
            size="xs"
            data={outcomes}
            value={rule.otherState ?? 'hold'}
            onChange={(v) => set({ otherState: v as Outcome })}
          />
        </div>
      </Step>
      <Step name="Payment" wide>
        <CodeTable
          label="Payments"
          met={met?.payments ?? []}
          codes={(rule.payments ?? {}) as Record<string, Outcome>}
          set={(payments) => set({ payments })}
          choose={outcome('Payment', (w) => usualPayments[w] ?? 'hold')}
        />
      </Step>
      <Step name="Paid by → payment type" wide>
        <CodeTable
          label="Payment methods"
          met={met?.methods ?? []}
          codes={rule.methods ?? {}}
          set={(methods) => set({ methods })}
          choose={typedCode('Payment type')}
        />
        <div className="row">
          <span>any other</span> {text('Any other payment method', 'otherMethod', 'held')}
        </div>
      </Step>
      <Step name="Sent by → shipping code" wide>
        <CodeTable
          label="Shipping methods"
          met={met?.shipping ?? []}
          codes={rule.shippingMethods ?? {}}
          set={(shippingMethods) => set({ shippingMethods })}
          choose={typedCode('Shipping code')}
        />
        <div className="row">
          <span>any other</span> {text('Any other shipping method', 'otherShipping', 'held')}
        </div>
        <PastedCodes
          label="Pasted: a line for each, what the store says and the code of the hub"
          codes={rule.shippingMethods ?? {}}
          set={(shippingMethods) => set({ shippingMethods })}
        />
      </Step>
      <Step name="Shipping zones" wide>
        <Zones zones={rule.zones ?? []} set={(zones) => set({ zones })} wrong={faultAt('zones')} />
        <Choice label="outside them" value={rule.outsideZone ?? 'hold'} set={(outsideZone) => set({ outsideZone })} />
        <Choice label="without an address" value={rule.noAddress ?? 'hold'} set={(noAddress) => set({ noAddress })} />
        {(rule.outsideZone === 'placeholder' || rule.noAddress === 'placeholder') && (
          <div className="row wrap">
            {(['name', 'street', 'postcode', 'city', 'country'] as const).map((part) => (
              <TextInput
                key={part}
                aria-label={`Address in its place: ${part}`}
                placeholder={part}
                w={part === 'country' ? 80 : 150}
                error={faultAt('placeholder')}
                value={rule.placeholder?.[part] ?? ''}
                onChange={(e) =>
                  set({ placeholder: { ...rule.placeholder, [part]: e.currentTarget.value || null } as Rule['placeholder'] })
                }
              />
            ))}
          </div>
        )}
      </Step>
      <Step name="Customer">
        <MultiSelect
          aria-label="Found by, in turn"
          data={keys}
          value={(customer.match as string[] | undefined) ?? keys.map((k) => k.value)}
          error={faultAt('customer.match')}
          onChange={(match) => set({ customer: { ...customer, match } as Rule['customer'] })}
        />
        <Select
          aria-label="Where none is found"
          w={200}
          allowDeselect={false}
          data={[
            { value: 'create', label: 'create one' },
            { value: 'hold', label: 'hold the order' },
            { value: 'use', label: 'use this customer' },
          ]}
          value={customer.missing ?? 'create'}
          onChange={(missing) => set({ customer: { ...customer, missing } as Rule['customer'] })}
        />
        {customer.missing === 'use' && (
          <TextInput
            aria-label="Customer that is used"
            placeholder="customer of the hub"
            w={170}
            error={faultAt('customer.use')}
            value={customer.use ?? ''}
            onChange={(e) => set({ customer: { ...customer, use: e.currentTarget.value || null } as Rule['customer'] })}
          />
        )}
      </Step>
      <Step name="An unknown SKU">
        <Select
          aria-label="An unknown SKU"
          w={220}
          allowDeselect={false}
          data={[
            { value: 'hold', label: 'holds the order' },
            { value: 'use', label: 'becomes the default item' },
            { value: 'omit', label: 'is left out' },
          ]}
          value={rule.unknownItem ?? 'hold'}
          onChange={(v) => set({ unknownItem: v as Rule['unknownItem'] })}
        />
        {rule.unknownItem === 'use' && text('Default item', 'useItem', 'article of the hub')}
        <Switch
          label="kits become their parts"
          checked={rule.kits === 'split'}
          onChange={(e) => set({ kits: e.currentTarget.checked ? 'split' : 'keep' })}
        />
      </Step>
      <Step name="Discounts, shipping, fees">
        <SegmentedControl
          aria-label="Discounts"
          size="xs"
          data={[
            { value: 'line', label: 'discount as a line' },
            { value: 'spread', label: 'taken off the goods' },
          ]}
          value={rule.discounts ?? 'line'}
          onChange={(v) => set({ discounts: v as Rule['discounts'] })}
        />
        {text('Item for discounts', 'discountItem', 'item for discounts')}
        {text('Item for shipping', 'shippingItem', 'item for shipping')}
        {text('Item for fees', 'feeItem', 'item for fees')}
      </Step>
      <Step name="Tax">
        <Select
          aria-label="Rounded"
          w={150}
          allowDeselect={false}
          data={[
            { value: 'line', label: 'rounded by line' },
            { value: 'rate', label: 'rounded by rate' },
          ]}
          value={tax.rounding ?? 'line'}
          onChange={(rounding) => set({ tax: { ...tax, rounding } as Rule['tax'] })}
        />
        <Select
          aria-label="Unit prices"
          w={150}
          allowDeselect={false}
          data={[
            { value: 'net', label: 'net unit prices' },
            { value: 'gross', label: 'gross unit prices' },
          ]}
          value={tax.target ?? 'net'}
          onChange={(target) => set({ tax: { ...tax, target } as Rule['tax'] })}
        />
        <TextInput
          aria-label="Rate of lines without one"
          placeholder="held without a rate"
          w={170}
          rightSection={<span className="dim small">%</span>}
          error={faultAt('tax.defaultRate')}
          value={tax.defaultRate === null || tax.defaultRate === undefined ? '' : String(tax.defaultRate)}
          onChange={(e) => set({ tax: { ...tax, defaultRate: e.currentTarget.value || null } as Rule['tax'] })}
        />
      </Step>
      <Step name="Where it does not add up">
        <Select
          aria-label="Where it does not add up"
          w={220}
          allowDeselect={false}
          data={[
            { value: 'hold', label: 'hold the order' },
            { value: 'line', label: 'a line makes up for it, up to' },
          ]}
          value={rule.difference ?? 'hold'}
          onChange={(v) => set({ difference: v as Rule['difference'] })}
        />
        {rule.difference === 'line' && (
          <TextInput
            aria-label="Up to"
            w={100}
            rightSection={<span className="dim small">€</span>}
            error={faultAt('differenceUpTo')}
            value={String(rule.differenceUpTo ?? 0.05)}
            onChange={(e) => set({ differenceUpTo: e.currentTarget.value })}
          />
        )}
      </Step>
      <Step name="Document">
        <TextInput
          aria-label="Its number"
          w={150}
          error={faultAt('number')}
          value={rule.number ?? '{number}'}
          onChange={(e) => set({ number: e.currentTarget.value })}
        />
        <TextInput
          aria-label="Its kind"
          w={120}
          value={rule.document ?? 'order'}
          onChange={(e) => set({ document: e.currentTarget.value })}
        />
        <span className="dim small">
          {'{number}'} and {'{id}'} are the store’s
        </span>
        <Documents documents={rule.documents ?? []} set={(documents) => set({ documents })} />
        <SegmentedControl
          aria-label="Lines are called"
          size="xs"
          data={[
            { value: 'asSold', label: 'lines as they were sold' },
            { value: 'asHere', label: 'as the hub calls its items' },
          ]}
          value={policy.titles ?? 'asSold'}
          onChange={(titles) => props.set({ ...policy, titles: titles as Policy['titles'] })}
        />
        <SegmentedControl
          aria-label="Delivery costs"
          size="xs"
          data={[
            { value: 'copied', label: 'delivery at its cost' },
            { value: 'zero', label: 'delivery free, sent from another store' },
          ]}
          value={policy.delivery ?? 'copied'}
          onChange={(delivery) => props.set({ ...policy, delivery: delivery as Policy['delivery'] })}
        />
        <Checkbox
          label="what the buyer wrote, and what the hub answers"
          checked={policy.comments ?? true}
          onChange={(e) => props.set({ ...policy, comments: e.currentTarget.checked })}
        />
        <Checkbox
          label="an address that the customer lacks is added to it"
          checked={policy.addsAddresses ?? true}
          onChange={(e) => props.set({ ...policy, addsAddresses: e.currentTarget.checked })}
        />
      </Step>
      <Step name="Changed in the store after it was posted" wide>
        <AfterForm after={policy.after ?? {}} set={(after) => props.set({ ...policy, after })} />
      </Step>
      <Step name="Back to the store" wide>
        <div className="row">
          <span>once it has arrived, its state becomes</span>
          <TextInput
            aria-label="State once it has arrived"
            placeholder="it stays"
            w={140}
            value={back.acknowledged ?? ''}
            onChange={(e) => setBack({ acknowledged: e.currentTarget.value || null })}
          />
        </div>
        <CodeTable
          label="States of the hub"
          met={['open', 'partShipped', 'shipped', 'cancelled'].map((word) => ({ word }))}
          codes={back.states ?? {}}
          set={(states) => setBack({ states })}
          choose={typedCode('State there', 'it stays')}
        />
        <Checkbox
          label="tell the store of shipments"
          checked={back.shipments ?? true}
          onChange={(e) => setBack({ shipments: e.currentTarget.checked })}
        />
        <PastedCodes
          label="Carriers: what the hub calls them, what the store calls them"
          codes={back.carriers ?? {}}
          set={(carriers) => setBack({ carriers })}
        />
        <Checkbox
          label="the store takes over quantities and addresses that the hub changes"
          checked={back.changes ?? false}
          onChange={(e) => setBack({ changes: e.currentTarget.checked })}
        />
      </Step>
    </div>
  )
}

function Step({ name, wide, children }: { name: string; wide?: boolean; children: ReactNode }) {
  return (
    <fieldset className={wide ? 'rule-step wide' : 'rule-step'} aria-label={name}>
      <span className="strong">{name}</span>
      <div className={wide ? 'stack' : 'row wrap'}>{children}</div>
    </fieldset>
  )
}

/** Which kind of document an order becomes, by how it was paid and by its state; the first that fits counts. */
function Documents({ documents, set }: { documents: Schemas['DocumentChoice'][]; set: (d: Schemas['DocumentChoice'][]) => void }) {
  const amend = (i: number, change: Partial<Schemas['DocumentChoice']>) => set(documents.map((d, j) => (i === j ? { ...d, ...change } : d)))
  return (
    <div className="stack">
      {documents.map((d, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: they have no other name than their place
        <div key={i} className="row wrap">
          <span>but paid by</span>
          {(['method', 'state', 'as'] as const).map((part) => (
            <span key={part} className="row">
              {part === 'state' && <span>in state</span>}
              {part === 'as' && <span>it is a</span>}
              <TextInput
                aria-label={`Document ${i + 1}: ${part}`}
                placeholder={part === 'as' ? 'kind' : 'any'}
                w={110}
                value={d[part] ?? ''}
                onChange={(e) => amend(i, { [part]: e.currentTarget.value || (part === 'as' ? '' : null) })}
              />
            </span>
          ))}
          <button type="button" className="act" onClick={() => set(documents.filter((_, j) => j !== i))}>
            Take it out
          </button>
        </div>
      ))}
      <div>
        <button type="button" className="act" onClick={() => set([...documents, { method: null, state: null, as: '' }])}>
          Another kind for some
        </button>
      </div>
    </div>
  )
}

function Choice(props: { label: string; value: Schemas['AddressChoice']; set: (v: Schemas['AddressChoice']) => void }) {
  return (
    <div className="row">
      <span style={{ width: 130 }}>{props.label}</span>
      <SegmentedControl
        aria-label={props.label}
        size="xs"
        data={[
          { value: 'hold', label: 'hold' },
          { value: 'placeholder', label: 'use this address' },
          { value: 'take', label: 'take it as it is' },
        ]}
        value={props.value}
        onChange={(v) => props.set(v as Schemas['AddressChoice'])}
      />
    </div>
  )
}

function Zones({ zones, set, wrong }: { zones: Schemas['ShippingZone'][]; set: (z: Schemas['ShippingZone'][]) => void; wrong: boolean }) {
  // What is typed stays as it is typed; only what is meant by it goes into the rule.
  const [typed, setTyped] = useState<string | null>(null)
  return (
    <Textarea
      aria-label="Shipping zones"
      description="A line for each: country; what postcodes begin with; what is left out. Columns of a spreadsheet can be pasted."
      autosize
      minRows={2}
      error={wrong && 'A country is two letters.'}
      placeholder="everywhere"
      value={typed ?? zonesText(zones)}
      onChange={(e) => {
        setTyped(e.currentTarget.value)
        set(zonesOf(e.currentTarget.value))
      }}
      onBlur={() => setTyped(null)}
    />
  )
}
