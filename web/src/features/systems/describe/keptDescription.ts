import { useEffect, useState } from 'react'
import type { Described, Evidence } from './description'

export type Kept<D extends Described> = { id: string; description: D; evidence: Evidence }

export type KeptDescription<D extends Described> = ReturnType<typeof useKeptDescription<D>>

function read<D extends Described>(shelf: string | undefined, blank: Kept<D>): Kept<D> {
  try {
    const kept = JSON.parse((shelf && localStorage.getItem(shelf)) ?? 'null')
    if (kept?.description?.resources) return kept
  } catch {
    // What cannot be read any more is begun anew.
  }
  return blank
}

/**
 * What is being described, begun with what is given; kept on a shelf of this browser, where there is one, until it is added or thrown
 * away. Secrets are never kept.
 */
export function useKeptDescription<D extends Described>(begun: Kept<D>, shelf?: string) {
  const [kept, setKept] = useState<Kept<D>>(() => read(shelf, begun))
  useEffect(() => {
    if (shelf) localStorage.setItem(shelf, JSON.stringify(kept))
  }, [kept, shelf])
  const set = (change: (description: D) => D) => setKept((k) => ({ ...k, description: change(k.description) }))
  return {
    ...kept,
    set,
    setId: (id: string) => setKept((k) => ({ ...k, id })),
    learn: (evidence: Evidence) => setKept((k) => ({ ...k, evidence: { ...k.evidence, ...evidence } })),
    /** Puts another list in the place of one, or takes it out. */
    replace: (at: number, by?: D['resources'][number]) =>
      set((d) => ({ ...d, resources: d.resources.flatMap((r, i) => (i !== at ? [r] : by ? [by] : [])) })),
    forget: () => {
      if (shelf) localStorage.removeItem(shelf)
      setKept(begun)
    },
  }
}
