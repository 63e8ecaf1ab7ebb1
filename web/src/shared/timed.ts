import type { LaneSummary } from './api'
import { when } from './format'

/** When a lane runs, in few words, and in the tone of a tag. */
export function timed(lane: LaneSummary): [words: string, tone: string] {
  if (!lane.job) return ['by hand', 'ochre']
  if (lane.paused) return ['left out of its job', 'ochre']
  if (lane.job.off) return ['its job is off', 'ochre']
  if (lane.job.paused) return ['its job is paused', 'ochre']
  return [lane.nextDueAt ? `next ${when(lane.nextDueAt)}` : 'at once', 'glaze']
}
