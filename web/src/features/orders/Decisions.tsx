import { afterActs } from '../../shared/after'
import { api, type Schemas, take } from '../../shared/api'
import { when } from '../../shared/format'
import { useOrderAct } from './actions'
import type { OrderView } from './order'

const words: Record<Schemas['OrderChoiceKind'], (c: Schemas['OrderChoice']) => string> = {
  item: (c) => `${c.subject} is article ${c.value}`,
  customer: (c) => `the buyer is customer ${c.value}`,
  difference: () => 'a line makes up for the difference',
  address: () => 'it is sent where it says',
  anyway: () => 'it is taken whatever its state and payment',
  paymentMethod: (c) => `“${c.subject}” is the payment type ${c.value}`,
  shippingMethod: (c) => `“${c.subject}” is the shipping code ${c.value}`,
  sameCustomer: (c) => `customer ${c.subject} is customer ${c.value}`,
  afterPosting: (c) => `after its change in the store, the document ${c.value ? afterActs[c.value as Schemas['AfterPosting']] : ''}`,
  postAnew: (c) => `document ${c.subject} is taken out, and the order posted anew`,
  rest: (c) => `its posting was undone, and it rests${c.value ? `; not all of it could be: ${c.value}` : ''}`,
  taxRate: (c) => `lines without a rate have ${c.value} %`,
}

/** What people decided about an order; each can be taken back. */
export function Decisions({ view }: { view: OrderView }) {
  const undo = useOrderAct((decision: number) =>
    take(api.DELETE('/api/lanes/{id}/orders/decisions/{decision}', { params: { path: { id: view.lane, decision } } })),
  )
  return (
    <section className="sheet" aria-label="What was decided">
      {view.decisions.map((d) => (
        <div key={d.id} className="line" style={{ gridTemplateColumns: 'minmax(0, 1fr) auto auto' }}>
          <span>
            {words[d.choice.kind](d.choice)}
            <span className="dim"> {d.forAll ? 'for all orders of this store' : 'for this order'}</span>
          </span>
          <span className="dim">
            {d.by}, {when(d.at)}
          </span>
          <button type="button" className="act" onClick={() => undo.mutate(d.id)}>
            Take back
          </button>
        </div>
      ))}
    </section>
  )
}
