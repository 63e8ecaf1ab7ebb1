import { useNavigate, useSearch } from '@tanstack/react-router'
import { isNoStep, type Page, type ViewOf } from './listState'

/** What a page shows, and how that is changed; what is no step of its own leaves none behind. */
export function useView<P extends Page>(page: P) {
  const address = useSearch({ strict: false })
  const state = address as ViewOf<P>
  const navigate = useNavigate({ from: page as '/orders' })
  const set = (change: ViewOf<P>, quietly = isNoStep(state, change)) =>
    void navigate({ search: (s: ViewOf<'/orders'>) => ({ ...s, ...change }), replace: quietly })
  return [state, set] as const
}
