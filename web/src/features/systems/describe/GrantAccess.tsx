import { Button } from '@mantine/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import type { Schemas } from '../../../shared/api'
import { queries } from '../../../shared/queries'
import { Failed } from '../../../shared/states'

/** Sends a person to where access is granted, in a window of its own, and waits until they have answered there. */
export function GrantAccess(props: { standing: string; ask: () => Promise<Schemas['GrantBegun']>; given: (grant: string) => void }) {
  const ask = useMutation({
    mutationFn: props.ask,
    onSuccess: (begun) => window.open(begun.address, '_blank', 'noopener'),
  })
  const id = ask.data?.id
  const standing = useQuery({
    ...queries.grant(id as string),
    refetchInterval: (query) => (query.state.data && query.state.data.state !== 'open' ? false : 1000),
  })
  const state = standing.data?.state
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is told once, when it is given
  useEffect(() => {
    if (id && state === 'given') props.given(id)
  }, [id, state])
  return (
    <div className="stack" style={{ gap: 6 }}>
      <div className="row wrap">
        <Button size="xs" loading={ask.isPending} onClick={() => ask.mutate()}>
          {props.standing === 'granted' ? 'Grant it again' : 'Grant access'}
        </Button>
        <span className="small" role="status">
          {state === 'open' ? 'Answer in the window that was opened; this page goes on by itself.' : props.standing}
        </span>
        {state === 'open' && (
          <a className="act small" href={ask.data?.address} target="_blank" rel="noopener noreferrer">
            Open it again
          </a>
        )}
      </div>
      {ask.isError && <Failed error={ask.error} />}
      {standing.data?.why && (
        <div className="note harm" role="alert">
          {standing.data.why.words}
        </div>
      )}
    </div>
  )
}
