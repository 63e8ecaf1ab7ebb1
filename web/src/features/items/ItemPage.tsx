import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from '@tanstack/react-router'
import type { Schemas } from '../../shared/api'
import { count, value, when } from '../../shared/format'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'

type Page = Schemas['ItemPage']

/** An item of the hub with every listing that hangs on it: prices and quantities side by side, and what they promise together. */
export function ItemPage() {
  const { item: key } = useParams({ from: '/items/$item' })
  const item = useQuery(queries.item(key))
  return <Loaded of={item}>{(page) => <View page={page} />}</Loaded>
}

function View({ page }: { page: Page }) {
  const { item, hub, systems } = page
  const without = systems.filter((s) => !item.listings.some((l) => l.systemId === s.id))
  return (
    <div className="page">
      <div className="page-head">
        <SystemMark system={hub} />
        <h1>{item.title ?? item.key}</h1>
        <span className="mono">{item.sku || 'no SKU'}</span>
        <span className="dim">
          {hub.name}, key <span className="mono">{item.key}</span>
        </span>
        <Link to="/systems/$system/records/$key" params={{ system: hub.id, key: item.key }} className="act">
          History
        </Link>
        <Link to="/synced" search={{ search: item.sku ?? '' }} className="act">
          What is synced of it
        </Link>
      </div>
      {item.exposure > 0 && (
        <div className="note harm" role="alert">
          <span className="strong">Exposed by {count(item.exposure)}.</span>
          <span>
            All listings together offer {count(item.promised)} pieces; {count(item.available)} are available. Buyers could order{' '}
            {count(item.exposure)} that are not there.
          </span>
        </div>
      )}
      <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) 300px', alignItems: 'start' }}>
        <section className="sheet" aria-labelledby="listings">
          <h2 id="listings">Listings</h2>
          {item.listings.length === 0 && <Empty title="No listing hangs on it">Pair it at the pair desk.</Empty>}
          {item.listings.length > 0 && (
            <table className="plain-table">
              <thead>
                <tr>
                  <th>Listing</th>
                  <th className="num">Price</th>
                  <th className="num">Quantity</th>
                  <th className="num">Takes of it</th>
                  <th>Paired</th>
                </tr>
              </thead>
              <tbody>
                {item.listings.map((l) => (
                  <Listing key={`${l.systemId}${l.key}`} listing={l} page={page} />
                ))}
                <tr>
                  <td className="strong">All together</td>
                  <td />
                  <td />
                  <td className={`num strong${item.exposure > 0 ? ' minus' : ''}`}>{count(item.promised)} pcs</td>
                  <td className="dim">of {count(item.available)} available</td>
                </tr>
              </tbody>
            </table>
          )}
          {without.length > 0 && (
            <div className="line dim" style={{ display: 'flex' }}>
              No listing in
              {without.map((s) => (
                <span key={s.id} className="row" style={{ gap: 5 }}>
                  <SystemMark system={s} /> {s.name}
                </span>
              ))}
            </div>
          )}
        </section>
        <section className="sheet" aria-labelledby="stock">
          <h2 id="stock">Stock in {hub.name}</h2>
          <table className="plain-table">
            <thead>
              <tr>
                <th>Location</th>
                <th className="num">On hand</th>
                <th className="num">Allocated</th>
                <th className="num">Incoming</th>
              </tr>
            </thead>
            <tbody>
              {item.levels.map((l) => (
                <tr key={l.location}>
                  <td>{l.location}</td>
                  <td className="num">{count(Number(l.onHand))}</td>
                  <td className="num">{count(Number(l.allocated))}</td>
                  <td className="num">{count(Number(l.incoming))}</td>
                </tr>
              ))}
              <tr>
                <td className="strong">Available, pcs</td>
                <td className="num strong">{count(item.available)}</td>
                <td />
                <td />
              </tr>
            </tbody>
          </table>
        </section>
      </div>
    </div>
  )
}

function Listing({ listing: l, page }: { listing: Schemas['ItemListing']; page: Page }) {
  const system = page.systems.find((s) => s.id === l.systemId)
  return (
    <tr>
      <td>
        <span className="row">
          {system && <SystemMark system={system} />}
          <span style={{ minWidth: 0 }}>
            <div>
              <Link to="/systems/$system/records/$key" params={{ system: l.systemId, key: l.key }} title="What it was, and who set it">
                {l.title ?? l.key}
              </Link>{' '}
              {l.isKit && <span className="tag ochre">kit</span>} {!l.published && <span className="tag plain">hidden</span>}{' '}
              {l.gone && <span className="tag harm">gone</span>}
            </div>
            <div className="mono dim">{l.sku || l.key}</div>
          </span>
        </span>
      </td>
      <td className="num">
        {l.price === null ? '–' : value(String(l.price), 'money')} <span className="dim">{l.priceUnit}</span>
      </td>
      <td className="num">{l.quantity === null ? '–' : count(l.quantity)} pcs</td>
      <td className="num">
        {l.quantity === null || l.gone || !l.published ? '–' : count(Math.max(0, l.quantity) * l.takesEach)}
        {l.takesEach !== 1 && <span className="dim"> ({count(l.takesEach)} each)</span>}
      </td>
      <td>
        <Link
          to="/pair-desk/$couple"
          params={{ couple: String(l.coupleId) }}
          search={{ show: 'paired', search: l.sku ?? l.key }}
          title={l.evidence}
        >
          {l.by}, {when(l.at)}
        </Link>
      </td>
    </tr>
  )
}
