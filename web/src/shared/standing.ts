import type { LaneSummary } from './api'
import type { ViewOf } from './listState'
import type { Word } from './words'

/** Records of a lane that are not in step for one reason, and the list that shows just these: at the desk, or of a run. */
export type Open = {
  key: string
  word: string
  means: Word
  tone: string
  count: number
  run?: number
  search: ViewOf<'/mismatches'> & ViewOf<'/runs/$run'>
}

/** What of a lane is at the mismatch desk, by family: its word, what that means, its colour. */
const troubles: Record<string, [string, Word, string]> = {
  failed: ['failed', 'did not get there', 'harm'],
  order: ['stuck', 'mismatch', 'harm'],
  held: ['held', 'held', 'ochre'],
  value: ['not computed', 'not computed', 'clay'],
}

/** What is open in a lane, what hurts most first; of runs nothing where the last comparison says nothing any more. */
export function openOf(lane: LaneSummary): Open[] {
  const { standing: s } = lane
  const desk = lane.troubles.flatMap(({ family, records }): Open[] => {
    const named = troubles[family]
    if (!named) return []
    const [word, means, tone] = named
    return [{ key: family, word, means, tone, count: records, search: { lane: lane.id, family } }]
  })
  if (s.runId === null || s.isStale) return desk
  const run = s.runId
  const of = (key: string, word: string, means: Word, tone: string, count: number, show: string): Open => ({
    key,
    word,
    means,
    tone,
    count,
    run,
    search: { show },
  })
  return [
    ...desk,
    of('unsent', 'not sent', 'did not get there', 'harm', s.unsent, 'open'),
    of('planned', 'would change', 'would change', 'ochre', s.planned, 'planned'),
    of('notChosen', 'not chosen', 'not chosen', 'ochre', s.notChosen, 'skipped'),
    of('takenBack', 'taken back', 'taken back', 'plain', s.takenBack, 'takenBack'),
  ].filter((o) => o.count > 0)
}
