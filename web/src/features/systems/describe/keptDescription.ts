import { useEffect, useState } from 'react'
import { blank, type Description, type Evidence } from './description'

const shelf = 'narbit.describing'

export type Kept = { id: string; description: Description; evidence: Evidence }

function read(): Kept {
  try {
    const kept = JSON.parse(localStorage.getItem(shelf) ?? 'null')
    if (kept?.description?.resources) return kept
  } catch {
    // What cannot be read any more is begun anew.
  }
  return { id: '', description: blank, evidence: {} }
}

export type KeptDescription = ReturnType<typeof useKeptDescription>

/** What is being described, kept in this browser until it is added or thrown away; secrets are never kept. */
export function useKeptDescription(from?: Kept) {
  const [kept, setKept] = useState<Kept>(() => from ?? read())
  useEffect(() => {
    if (!from) localStorage.setItem(shelf, JSON.stringify(kept))
  }, [kept, from])
  return {
    ...kept,
    setId: (id: string) => setKept((k) => ({ ...k, id })),
    set: (change: (description: Description) => Description) => setKept((k) => ({ ...k, description: change(k.description) })),
    learn: (evidence: Evidence) => setKept((k) => ({ ...k, evidence: { ...k.evidence, ...evidence } })),
    forget: () => {
      localStorage.removeItem(shelf)
      setKept({ id: '', description: blank, evidence: {} })
    },
  }
}
