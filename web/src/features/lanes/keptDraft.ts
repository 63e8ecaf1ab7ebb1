import { notifications } from '@mantine/notifications'
import { useCallback, useEffect, useRef, useState } from 'react'
import { api, type LaneSummary, Refusal, type Schemas, take } from '../../shared/api'

export type DraftView = Schemas['DraftView']

/** What of a lane is edited at this moment. */
export type InHand = { baseNumber: number; note: string | null; document: Schemas['LaneDocument']; guards: Schemas['GuardLimits'] }

/** What this window calls itself, so that its own requests never stand in each other's way. */
const window_ = crypto.randomUUID()

/** What is kept is not what is in hand, whatever that is. */
const overtaken = ''

/** What a browser sends for a page that is gone. */
const mostAtLeaving = 60_000

/**
 * Keeps on the server what is edited and not saved, while it is edited: one request after the other, and the rest when the page is
 * left. What is in hand is null while nothing differs from the version it was begun on.
 */
export function useKeptDraft(lane: LaneSummary, found: DraftView | null, inHand: InHand | null) {
  const path = { params: { path: { id: lane.id } } }
  const [thrown, setThrown] = useState(found?.thrownAt ? found : null)
  const [conflict, setConflict] = useState<string | null>(null)
  const seen = useRef(found && !found.thrownAt ? found.at : null)
  const kept = useRef(JSON.stringify(found && !found.thrownAt ? inHand : null))
  const now = useRef(inHand)
  const busy = useRef(false)
  // What is on its way when the document is saved belongs to what was before.
  const round = useRef(0)
  const throws = useRef(false)
  now.current = inHand

  const keep = useCallback(
    async (leaving = false) => {
      const wanted = now.current
      const text = JSON.stringify(wanted)
      if (text === kept.current || (busy.current && !leaving)) return
      busy.current = true
      const begun = round.current
      // What is thrown away while something else is on its way is thrown away after it, and not forgotten.
      const isThrown = throws.current && wanted === null
      throws.current = false
      try {
        const { draft } = await (wanted
          ? take(
              api.PUT('/api/lanes/{id}/draft', {
                params: { path: { id: lane.id } },
                body: { ...wanted, window: window_, seen: seen.current },
                keepalive: leaving && text.length < mostAtLeaving,
              }),
            )
          : take(
              api.DELETE('/api/lanes/{id}/draft', {
                params: { path: { id: lane.id }, query: { forget: !isThrown } },
                keepalive: leaving,
              }),
            ))
        kept.current = begun === round.current ? text : overtaken
        seen.current = wanted && draft ? draft.at : null
        setThrown(draft?.thrownAt ? draft : null)
      } catch (error) {
        // Where the server cannot be reached, the next change tries again.
        throws.current = throws.current || isThrown
        if (error instanceof Refusal && error.code === 'draft.changed') setConflict(error.message)
        return
      } finally {
        busy.current = false
      }
      void keep()
    },
    [lane.id],
  )

  const text = JSON.stringify(inHand)
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is in hand is looked at when its time has come
  useEffect(() => {
    const soon = setTimeout(() => void keep(), 250)
    return () => clearTimeout(soon)
  }, [text, keep])
  useEffect(() => {
    const leave = () => void keep(true)
    window.addEventListener('pagehide', leave)
    return () => window.removeEventListener('pagehide', leave)
  }, [keep])
  // The lane's page is left: what is in hand is kept, and whoever leaves is told.
  const name = `${lane.name} to ${lane.target.name}`
  useEffect(
    () => () => {
      void keep(true)
      const left = now.current
      if (left)
        notifications.show({
          color: 'var(--ochre)',
          message: `Version ${left.baseNumber + 1} of ${name} is not saved. It is kept for you.`,
        })
    },
    [keep, name],
  )

  return {
    /** What was thrown away last, while it can be brought back. */
    thrown,
    /** Another window has changed the draft. */
    conflict,
    bringBack: async () => (await take(api.POST('/api/lanes/{id}/draft/back', path))).draft,
    newest: async () => (await take(api.GET('/api/lanes/{id}/draft', path))).draft,
    /** From here on the draft goes on from the one given; null: from whatever is kept by now. */
    goOnFrom: (draft: DraftView | null) => {
      seen.current = draft?.at ?? null
      kept.current = overtaken
      setConflict(null)
      setThrown(null)
    },
    /** What is in hand is thrown away, and can be brought back. */
    throwAway: () => {
      throws.current = true
    },
    /** It became a version: there is nothing to keep. */
    saved: () => {
      round.current++
      kept.current = JSON.stringify(null)
      seen.current = null
      setThrown(null)
      setConflict(null)
    },
  }
}
