import { Button } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { queries } from '../../shared/queries'
import { Loaded } from '../../shared/states'

// What a person came back with stands in the address as it was opened; what looks like a number there is none.
const cameWith = new URLSearchParams(window.location.search)

/** Where people come back to from a system at which they were asked to grant access. */
export function GrantedPage() {
  const refusal = cameWith.get('error_description') ?? cameWith.get('error')
  const redeemed = useQuery(queries.redeemed({ state: cameWith.get('state') ?? '', code: cameWith.get('code'), refusal }))
  return (
    <div className="page">
      <div className="page-head">
        <h1>Access to a system</h1>
      </div>
      <Loaded of={redeemed}>
        {() => (
          <section className="sheet pad stack" style={{ maxWidth: 560 }}>
            <div className="note glaze" role="status">
              <span>Access was granted. The page from which you came goes on by itself.</span>
            </div>
            <div>
              <Button onClick={() => window.close()}>Close this window</Button>
            </div>
          </section>
        )}
      </Loaded>
    </div>
  )
}
