import type { LaneSummary } from '../../shared/api'
import type { ListState } from '../../shared/listState'
import type { Word } from '../../shared/words'

/** Records of a lane that are not in step for one reason, and the list that shows just these. */
export type Open = { key: string; word: string; means: Word; tone: string; count: number; run: number; search: ListState }

/** What is open in a lane, what hurts most first; nothing where its last comparison says nothing any more. */
export function openOf(lane: LaneSummary): Open[] {
  const { standing: s } = lane
  if (s.runId === null || s.isStale) return []
  const run = s.runId
  const of = (key: string, word: string, means: Word, tone: string, count: number, search: ListState): Open => ({
    key,
    word,
    means,
    tone,
    count,
    run,
    search,
  })
  return [
    of('failed', 'failed', 'did not get there', 'harm', s.failed, { show: 'failed' }),
    of('unsent', 'not sent', 'did not get there', 'harm', s.unsent, { show: 'open' }),
    of('held', 'held', 'held', 'ochre', s.held, { show: 'held' }),
    of('planned', 'would change', 'would change', 'ochre', s.planned, { show: 'planned' }),
    of('notChosen', 'not chosen', 'not chosen', 'ochre', s.notChosen, { show: 'skipped' }),
    of('notComputed', 'not computed', 'not computed', 'clay', s.notComputed, { tab: 'remarks' }),
    of('takenBack', 'taken back', 'taken back', 'plain', s.takenBack, { show: 'takenBack' }),
  ].filter((o) => o.count > 0)
}
