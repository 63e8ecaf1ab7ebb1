import { Button, VisuallyHidden } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from '@tanstack/react-router'
import { useRollBack } from '../../shared/acts'
import type { Schemas } from '../../shared/api'
import { count, dayAndClock, plural, value } from '../../shared/format'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Loaded } from '../../shared/states'
import { Trace } from '../../shared/Trace'
import { Decisions } from './Decisions'
import type { OrderView } from './order'
import { Person } from './Person'
import { Changed, Resolve } from './Resolve'
import { remarkWords, stages } from './stages'

const money = (amount: number | string | null | undefined) =>
  value(amount === null || amount === undefined ? null : String(amount), 'money')

/** One order: the store's on the left, what it becomes at the hub on the right, and between them each line with its sign. */
export function OrderPage() {
  const { lane, order } = useParams({ from: '/orders/$lane/$order' })
  const view = useQuery(queries.order(lane, order))
  return <Loaded of={view}>{(v) => <Shown view={v} />}</Loaded>
}

function Shown({ view }: { view: OrderView }) {
  const [word, tone] = stages[view.stage]
  const order = view.order
  return (
    <div className="page">
      <div className="page-head">
        <Link to="/orders" className="act">
          Orders
        </Link>
        <h1>{order?.number ?? view.key}</h1>
        <SystemMark system={view.store} />
        <span>→</span>
        <SystemMark system={view.hub} />
        <span className={`tag ${tone}`}>{word}</span>
        {view.hubKey && (
          <span className="dim">
            document <span className="mono">{view.hubKey}</span>
            {view.hubState && `, ${view.hubState}`}
          </span>
        )}
        <span className="grow" />
        {view.posting ? (
          <TakeBack posting={view.posting} />
        ) : (
          <Link to="/lanes/$lane/preview" params={{ lane: view.lane }} search={{ search: order?.number ?? undefined }} className="act">
            To the lane’s preview
          </Link>
        )}
        <Link
          to="/systems/$system/records/$key"
          params={{ system: view.store.id, key: view.key }}
          search={{ kind: 'order' }}
          className="act"
        >
          History and raw record
        </Link>
      </div>
      {view.unreadable && (
        <div className="note harm" role="alert">
          {view.unreadable}
        </div>
      )}
      {view.causes.map((cause) => (
        <Resolve key={`${cause.cause}${cause.line}`} view={view} cause={cause} />
      ))}
      {view.after && <Changed view={view} after={view.after} />}
      {view.remarks.map((r, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the same remark may stand there for several lines
        <div key={`${r}${i}`} className="note">
          {remarkWords[r] ?? r}
        </div>
      ))}
      {view.decisions.length > 0 && <Decisions view={view} />}
      {order && (
        <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 330px', minHeight: 'auto' }}>
          <div className="stack">
            <Lines view={view} order={order} />
            {order.refunds.length > 0 && <Refunds view={view} />}
          </div>
          <div className="stack">
            <Parties view={view} order={order} />
            {view.shipments.length > 0 && (
              <section className="sheet pad" aria-label="Shipments">
                <h2 className="inset">Shipments</h2>
                {view.shipments.map((s) => (
                  <div key={s}>{s}</div>
                ))}
              </section>
            )}
            <section className="sheet" aria-label="How it came about">
              <h2>How it came about</h2>
              <Trace steps={view.trace} />
            </section>
            <Person order={order} />
          </div>
        </div>
      )}
    </div>
  )
}

/** Undoing a posting is a run of its own, looked at before it is sent. */
function TakeBack({ posting }: { posting: Schemas['Posting'] }) {
  const back = useRollBack(posting.run)
  return (
    <Button onClick={() => back.mutate([posting.write])} loading={back.isPending}>
      Undo the posting
    </Button>
  )
}

const kinds: Record<Schemas['DocumentLineKind'], string> = {
  goods: 'goods',
  discount: 'Discount',
  shipping: 'Shipping',
  fee: 'Fee',
  difference: 'Difference',
}

function Became({ became }: { became: Schemas['DocumentLineView'] }) {
  return (
    <>
      <td>
        <div className={became.kind === 'goods' && !became.item ? 'minus' : undefined}>
          {became.itemName ?? (became.kind === 'goods' ? (became.item ?? 'an item that is not known') : kinds[became.kind])}
        </div>
        <span className="mono dim">{became.sku ?? became.item ?? ''}</span>
      </td>
      <td className="num">{count(Number(became.quantity))}</td>
      <td className="num">{money(became.net)}</td>
      <td className="num dim">{value(String(became.taxRate))} %</td>
      <td className="num">{money(became.tax)}</td>
      <td className="num strong">{money(became.gross)}</td>
    </>
  )
}

/** What is between a line and what it became: arrived, in the way, left out, or no longer the same. */
function Sign(props: {
  held: boolean
  line: Schemas['OrderLine']
  became: Schemas['DocumentLineView'] | null
  alone: boolean
  posted: boolean
}) {
  const { became: b } = props
  const moved = props.posted && props.alone && b !== null && Number(b.quantity) !== props.line.quantity
  const [sign, words, tone] = props.held
    ? ['✕', 'held', 'minus']
    : moved
      ? ['≠', 'another quantity than was posted', 'minus strong']
      : b
        ? ['→', 'becomes', 'dim']
        : ['·', 'left out', 'dim']
  return (
    <td className={tone}>
      <span role="img" aria-label={words} title={words}>
        {sign}
      </span>
    </td>
  )
}

const nothing = (
  <td colSpan={6} className="dim">
    nothing: it is left out, or the order is skipped
  </td>
)

function Lines({ view, order }: { view: OrderView; order: Schemas['Order'] }) {
  const totals = view.document
  const off = Number(view.off)
  const held = (line: string) => view.causes.some((c) => c.line === line)
  return (
    <section className="sheet scrolls" aria-label="Lines">
      <table className="plain-table">
        <thead>
          <tr>
            <th>Ordered in {view.store.name}</th>
            <th className="num">pcs</th>
            <th className="num">{`${order.taxIncluded ? 'gross' : 'net'}, ${view.currency}`}</th>
            <th>
              <VisuallyHidden>State</VisuallyHidden>
            </th>
            <th>becomes in {view.hub.name}</th>
            <th className="num">pcs</th>
            <th className="num">net, {view.currency}</th>
            <th className="num">rate</th>
            <th className="num">tax, {view.currency}</th>
            <th className="num">gross, {view.currency}</th>
          </tr>
        </thead>
        <tbody>
          {view.lines.flatMap(({ line, amount, became }) =>
            (became.length > 0 ? became : [null]).map((b, i) => (
              <tr key={`${line.id}-${b?.item ?? ''}-${i.toString()}`}>
                {i === 0 ? (
                  <>
                    <td>
                      <div>{line.title}</div>
                      <span className="mono dim">{line.sku}</span>
                    </td>
                    <td className="num">{count(line.quantity)}</td>
                    <td className="num">{money(amount)}</td>
                  </>
                ) : (
                  <td colSpan={3} />
                )}
                <Sign held={held(line.id)} line={line} became={b} alone={became.length === 1} posted={view.hubKey !== null} />
                {b ? <Became became={b} /> : nothing}
              </tr>
            )),
          )}
          {view.beside.map((b, i) => (
            <tr key={`${b.kind}-${b.taxRate}-${i.toString()}`}>
              <td colSpan={3} className="dim">
                {kinds[b.kind]}
                {b.kind === 'shipping' && order.shipping[0]?.method ? `, ${order.shipping[0].method}` : ''}
              </td>
              <td className="dim">→</td>
              <Became became={b} />
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <td className="strong">Total</td>
            <td />
            <td className="num strong">{money(order.total)}</td>
            <td
              className={off === 0 ? 'plus strong' : 'minus strong'}
              title={off === 0 ? 'they add up' : `off by ${money(off)} ${view.currency}`}
            >
              {off === 0 ? '=' : '≠'}
            </td>
            <td className={off === 0 ? 'dim' : 'minus'}>{off === 0 ? 'adds up to the cent' : `off by ${money(off)} ${view.currency}`}</td>
            <td />
            <td className="num">{money(totals?.net)}</td>
            <td />
            <td className="num">{money(totals?.tax)}</td>
            <td className="num strong">{money(totals?.gross)}</td>
          </tr>
        </tfoot>
      </table>
    </section>
  )
}

function Parties({ view, order }: { view: OrderView; order: Schemas['Order'] }) {
  const to = order.shipTo ?? order.billTo
  const customer = view.document
  const earned = view.earned
  const facts: [string, React.ReactNode][] = [
    ['Placed', dayAndClock(order.placedAt)],
    ['State there', order.state ?? 'none'],
    ['Payment', `${order.payment.method ?? 'not said'}, ${order.payment.state ?? 'not said'}`],
    ['Buyer', order.billTo?.name ?? order.email ?? 'nobody named'],
    [
      'Customer at the hub',
      customer?.customerKey
        ? `${customer.customerName ?? ''}, ${customer.customerKey}`
        : customer?.createsCustomer
          ? `${customer.customerName ?? ''} (will be created)`
          : 'none yet',
    ],
    ['Goes to', to ? [to.name, to.street, to.postcode, to.city, to.country].filter(Boolean).join(', ') : 'no address'],
    ['Becomes', view.document ? `${view.document.as} ${view.document.number}` : 'nothing'],
    ['Paid by', view.document?.paidBy || 'nothing yet'],
  ]
  if (earned)
    facts.push([
      'Earned',
      earned.cost === null ? (
        `${money(earned.net)} ${view.currency} net; the cost of its goods is not known`
      ) : (
        <>
          {money(earned.net)} {view.currency} net, goods {money(earned.cost)} {view.currency},{' '}
          <span className="strong">margin {earned.margin} %</span>
        </>
      ),
    ])
  return (
    <section className="sheet pad" aria-label="The order">
      <dl className="field-grid" style={{ margin: 0, gridTemplateColumns: '118px minmax(0, 1fr)' }}>
        {facts.map(([label, text]) => (
          <div key={label} style={{ display: 'contents' }}>
            <dt className="dim">{label}</dt>
            <dd style={{ margin: 0 }}>{text}</dd>
          </div>
        ))}
      </dl>
    </section>
  )
}

function Refunds({ view }: { view: OrderView }) {
  return (
    <section className="sheet" aria-label="Refunds">
      <div className="sheet-head">{plural(view.refunds.length, 'refund')}</div>
      <table className="plain-table">
        <thead>
          <tr>
            <th>Given back</th>
            <th>on</th>
            <th className="num">{view.currency}</th>
            <th>became</th>
          </tr>
        </thead>
        <tbody>
          {view.refunds.map((r) => (
            <tr key={r.refund}>
              <td className="mono">{r.refund}</td>
              <td>{r.at ? dayAndClock(r.at) : ''}</td>
              <td className="num">{money(r.total)}</td>
              <td>
                {r.creditNote ? (
                  <>
                    credit note <span className="mono">{r.creditNote}</span>
                  </>
                ) : r.words ? (
                  <span className="minus">held: {r.words}</span>
                ) : (
                  <span className="dim">a credit note with the next run</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
