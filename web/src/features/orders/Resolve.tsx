import { Button, Checkbox, TextInput } from '@mantine/core'
import { useState } from 'react'
import { afterButtons, partWords } from '../../shared/after'
import { api, type Schemas, take } from '../../shared/api'
import { useOrderAct } from './actions'
import type { OrderView } from './order'
import { Pick } from './Pick'

type Cause = Schemas['OrderCauseView']
type Choice = Schemas['OrderChoice']

/** Which decision gets an order past a cause; undefined: it is put right in the store or in the rule. */
const kindOf: Partial<Record<string, Schemas['OrderChoiceKind']>> = {
  unknownItem: 'item',
  customerAmbiguous: 'customer',
  customerUnknown: 'customer',
  customerNameless: 'customer',
  totals: 'difference',
  noAddress: 'address',
  outsideZone: 'address',
  state: 'anyway',
  payment: 'anyway',
  paymentMethod: 'paymentMethod',
  shippingMethod: 'shippingMethod',
  taxRate: 'taxRate',
}

/** One cause for which an order is held or waits, with the way past it in place: for this order, or for all that wait for the same. */
export function Resolve({ view, cause }: { view: OrderView; cause: Cause }) {
  const kind = view.hubKey ? undefined : kindOf[cause.cause]
  const [same, setSame] = useState(false)
  const [all, setAll] = useState(cause.cause === 'unknownItem' || cause.cause === 'paymentMethod' || cause.cause === 'shippingMethod')
  const decide = useOrderAct((choice: Choice) =>
    take(
      api.POST('/api/lanes/{id}/orders/{key}/decisions', {
        params: { path: { id: view.lane, key: view.key } },
        body: { choice, forAll: all },
      }),
    ),
  )
  const merge = useOrderAct(async (chosen: string) => {
    let moved = 0
    for (const other of view.candidates.filter((c) => c.key !== chosen && c.alike.includes('email')))
      moved += (
        await take(
          api.POST('/api/lanes/{id}/orders/{key}/decisions', {
            params: { path: { id: view.lane, key: view.key } },
            body: { choice: { kind: 'sameCustomer', subject: other.key, value: chosen }, forAll: true },
          }),
        )
      ).moved
    return { moved }
  })
  const act = (value: string | null = null) =>
    same && value ? merge.mutate(value) : decide.mutate({ kind: kind as Choice['kind'], subject: cause.subject, value })
  return (
    <div className={`note ${cause.outcome === 'wait' ? 'ochre' : 'harm'}`} style={{ alignItems: 'center', flexWrap: 'wrap' }}>
      <span className="grow">
        <span className="strong">{cause.outcome === 'wait' ? 'Waits' : 'Held'}:</span> {cause.words}
      </span>
      {cause.cause === 'takenOut' && <PostAgain view={view} />}
      {kind && (
        <>
          <Way kind={kind} view={view} act={act} />
          {cause.cause === 'customerAmbiguous' && (
            <Checkbox
              label="and the others with this mail address are the same customer"
              checked={same}
              onChange={(e) => setSame(e.currentTarget.checked)}
            />
          )}
          {/* Who a buyer is, and what one order is off by, says nothing of others. */}
          {kind !== 'customer' && kind !== 'difference' && (
            <Checkbox label="for all orders" checked={all} onChange={(e) => setAll(e.currentTarget.checked)} />
          )}
        </>
      )}
    </div>
  )
}

/** An order whose posting was undone rests until somebody wants it posted again. */
function PostAgain({ view }: { view: OrderView }) {
  const rest = view.decisions.find((d) => d.choice.kind === 'rest')
  const wake = useOrderAct((decision: number) =>
    take(api.DELETE('/api/lanes/{id}/orders/decisions/{decision}', { params: { path: { id: view.lane, decision } } })),
  )
  return rest ? (
    <>
      {rest.choice.value && <span className="minus">Not all of it could be undone: {rest.choice.value}.</span>}
      <Button onClick={() => wake.mutate(rest.id)} loading={wake.isPending}>
        Post it again
      </Button>
    </>
  ) : null
}

const comes = (parts: Schemas['OrderPart'][]) =>
  parts.length > 0
    ? `${parts.map((p) => partWords[p]).join(', ')}; the next run sees to it`
    : 'the next run takes its document out, and the one after it posts the order again'

/** What has changed in the store since the order was posted, and what may become of its document. */
export function Changed({ view, after }: { view: OrderView; after: Schemas['AfterView'] }) {
  const decide = useOrderAct((value: Schemas['AfterPosting']) =>
    take(
      api.POST('/api/lanes/{id}/orders/{key}/decisions', {
        params: { path: { id: view.lane, key: view.key } },
        body: { choice: { kind: 'afterPosting', subject: after.subject, value }, forAll: false },
      }),
    ),
  )
  return (
    <div className={`note ${after.cause ? 'harm' : 'ochre'}`} style={{ alignItems: 'center', flexWrap: 'wrap' }}>
      <span className="grow">
        <span className="strong">{after.cause ? 'Held' : after.parts.length > 0 ? 'Changed in the store' : 'To be made anew'}:</span>{' '}
        {after.words ?? comes(after.parts)}
      </span>
      {after.cause &&
        after.choices.map((c) => (
          <Button key={c} onClick={() => decide.mutate(c)}>
            {afterButtons[c]}
          </Button>
        ))}
    </div>
  )
}

function Way({ kind, view, act }: { kind: Choice['kind']; view: OrderView; act: (value?: string | null) => void }) {
  switch (kind) {
    case 'item':
      return <Pick hub={view.hub.id} kind="item" label="Article of the hub" button="This is the article" act={act} />
    case 'customer':
      return (
        <Pick
          hub={view.hub.id}
          kind="customer"
          label="Customer of the hub"
          button="This is the buyer"
          likely={view.candidates.map((c) => ({ value: c.key, label: `${c.name ?? c.key}, ${c.key} (same ${c.alike.join(', ')})` }))}
          act={act}
        />
      )
    case 'difference':
      return <Button onClick={() => act()}>Let a line make up for it</Button>
    case 'address':
      return <Button onClick={() => act()}>Take it as it is</Button>
    case 'anyway':
      return <Button onClick={() => act()}>Take it all the same</Button>
    case 'taxRate':
      return <Typed label="Tax rate, %" act={act} />
    case 'paymentMethod':
      return <Typed label="Payment type of the hub" act={act} />
    case 'shippingMethod':
      return <Typed label="Shipping code of the hub" act={act} />
  }
}

function Typed({ label, act }: { label: string; act: (value: string) => void }) {
  const [text, setText] = useState('')
  return (
    <span className="row">
      <TextInput aria-label={label} placeholder={label} w={200} value={text} onChange={(e) => setText(e.currentTarget.value)} />
      <Button disabled={!text.trim()} onClick={() => act(text.trim())}>
        Use it
      </Button>
    </span>
  )
}
