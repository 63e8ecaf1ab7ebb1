import { Button } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Schemas, take } from '../../shared/api'
import { Dialog } from '../../shared/Dialog'
import { plural } from '../../shared/format'
import { useRenew } from '../../shared/queries'

/** What Narbit keeps of a buyer: as a file, or anonymised. */
export function Person({ order }: { order: Schemas['Order'] }) {
  const who = order.email ?? order.account ?? order.phone
  const renew = useRenew()
  const [asked, setAsked] = useState(false)
  const anonymise = useMutation({
    mutationFn: () => take(api.POST('/api/people/anonymise', { body: { who: who ?? '' } })),
    onSuccess: (done) => {
      notifications.show({ color: 'var(--glaze)', message: `${plural(done.records, 'record')} and what runs wrote of them anonymised.` })
      setAsked(false)
      void renew('orders')
    },
    onError: (error) => notifications.show({ color: 'var(--harm)', message: error.message }),
  })
  if (!who || who === 'anonymised') return null
  return (
    <section className="sheet pad stack" aria-label="The buyer’s data">
      <h2 className="inset">The buyer’s data</h2>
      <span className="dim small">Everything that Narbit keeps of {who}: customers, orders, documents, what runs wrote of them.</span>
      <div className="row wrap">
        <Button component="a" href={`/api/people/data.json?who=${encodeURIComponent(who)}`} download>
          As a file, JSON
        </Button>
        <Button onClick={() => setAsked(true)}>Anonymise</Button>
      </div>
      <Dialog title={`Anonymise ${who}`} opened={asked} close={() => setAsked(false)}>
        <div className="stack">
          <span>
            Names, addresses, mail addresses and telephone numbers go from the mirror, from runs with their traces, and from the history.
            What was bought and paid stays. The systems themselves are not written. This cannot be undone here; reading them anew brings
            back what has changed there until it is anonymised again.
          </span>
          <Button variant="filled" data-autofocus loading={anonymise.isPending} onClick={() => anonymise.mutate()}>
            Anonymise it
          </Button>
        </div>
      </Dialog>
    </section>
  )
}
