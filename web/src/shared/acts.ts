import { useMutation } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { api, take } from './api'
import { useRenew } from './queries'
import { sayRefusal } from './refusal'

/** Starts a lane: a preview leads to its change set, a run to its progress. */
export function useStartRun() {
  const renew = useRenew()
  const navigate = useNavigate()
  return useMutation({
    mutationFn: ({ lane, preview }: { lane: string; preview: boolean }) =>
      take(api.POST('/api/lanes/{id}/runs', { params: { path: { id: lane } }, body: { preview } })),
    onSuccess: ({ runId }, { lane, preview }) => {
      void renew('runs', 'lanes')
      if (preview) void navigate({ to: '/lanes/$lane/preview', params: { lane }, search: {} })
      else void navigate({ to: '/runs/$run', params: { run: String(runId) }, search: {} })
    },
    onError: sayRefusal,
  })
}

/** Plans the opposite of a run, or of chosen records of it, and shows it; nothing is written before it is sent. */
export function useRollBack(run: number) {
  const navigate = useNavigate()
  return useMutation({
    mutationFn: (only: number[] | null) => take(api.POST('/api/runs/{id}/rollback', { params: { path: { id: run } }, body: { only } })),
    onSuccess: (started) => void navigate({ to: '/runs/$run', params: { run: String(started.runId) }, search: {} }),
    onError: sayRefusal,
  })
}

/** Reads a system: what has changed, or all of it. */
export function useReadSystem() {
  const renew = useRenew()
  return useMutation({
    mutationFn: ({ system, full }: { system: string; full: boolean }) =>
      take(api.POST('/api/systems/{id}/read', { params: { path: { id: system } }, body: { full } })),
    onSuccess: () => void renew('systems'),
    onError: sayRefusal,
  })
}
