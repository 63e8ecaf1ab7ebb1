import { Button, CopyButton } from '@mantine/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { api, take } from '../../shared/api'
import { count, when } from '../../shared/format'
import { queries, useRenew } from '../../shared/queries'
import { Failed, Loaded } from '../../shared/states'
import type { System } from './SystemsPage'

/** Where a system sends its webhooks, and the secret that it signs them with. */
export function Hook({ system }: { system: System }) {
  const renew = useRenew()
  const path = { params: { path: { id: system.id } } }
  const hook = useQuery(queries.hook(system.id))
  const make = useMutation({
    mutationFn: () => take(api.POST('/api/systems/{id}/hook/secret', path)),
    onSuccess: () => void renew('systems'),
  })
  return (
    <section className="sheet pad stack" aria-label="Webhooks">
      <h2 className="inset">Webhooks</h2>
      <Loaded of={hook}>
        {(h) => (
          <div className="field-grid">
            <span>{system.name} sends them to</span>
            <span className="mono">{window.location.origin + h.path}</span>
            <span>Signed with a secret</span>
            <span className="row wrap">
              {h.secretAt ? `of ${when(h.secretAt)}` : 'that was not made yet, so none are taken'}
              <Button loading={make.isPending} onClick={() => make.mutate()}>
                {h.secretAt ? 'Make a new one' : 'Make a secret'}
              </Button>
              {h.secretAt && <span className="dim small">the one before counts for a day longer</span>}
            </span>
            {make.data && (
              <>
                <span>The secret, shown this once</span>
                <span className="row wrap">
                  <span className="mono" data-secret>
                    {make.data.secret}
                  </span>
                  <CopyButton value={make.data.secret}>
                    {({ copied, copy }) => <Button onClick={copy}>{copied ? 'Copied' : 'Copy'}</Button>}
                  </CopyButton>
                </span>
              </>
            )}
            <span>Taken in 24 hours</span>
            <span>
              {count(h.taken)}
              {h.lastAt && <span className="dim">, the last {when(h.lastAt)}</span>}
            </span>
          </div>
        )}
      </Loaded>
      {make.isError && <Failed error={make.error} />}
      <span className="dim small">
        What a webhook says of a record is not believed: the record is read, and lanes with a timetable start at once.
      </span>
    </section>
  )
}
