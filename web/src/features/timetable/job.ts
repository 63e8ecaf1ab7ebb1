import { notifications } from '@mantine/notifications'
import { useMutation } from '@tanstack/react-query'
import { api, Refusal, type Schemas, take } from '../../shared/api'
import { useRenew } from '../../shared/queries'

export type Job = Schemas['JobView']
export type JobDocument = Schemas['JobDocument']
export type JobAct = Schemas['JobAct']
export type JobEffect = Schemas['JobEffect']
export type Turn = Schemas['TurnView']
export type Timetable = Schemas['TimetableView']
export type JobRibbon = Schemas['JobRibbon']

/** What is stale once a job is another one. */
export function useStale() {
  const renew = useRenew()
  return () => {
    void renew('jobs', 'timetable', 'turns', 'lanes', 'ribbon', 'today')
  }
}

export function useAct(id: string) {
  const stale = useStale()
  return useMutation({
    mutationFn: (act: JobAct) => take(api.POST('/api/jobs/{id}/act', { params: { path: { id } }, body: act })),
    onSuccess: ({ words }, act) => {
      if (act.kind !== 'read') notifications.show({ color: 'var(--glaze)', message: words })
      stale()
    },
    onError: (error) =>
      notifications.show({
        color: 'var(--harm)',
        title: error instanceof Refusal ? error.title : 'Something went wrong',
        message: error instanceof Error ? error.message : String(error),
        autoClose: 12_000,
      }),
  })
}

/** What a turn came to, in words and in the tone of a tag. */
export function outcomeOf(turn: Pick<Turn, 'outcome' | 'fate' | 'times'>): [words: string, tone: string] {
  switch (turn.outcome) {
    case 'working':
      return ['at work', 'plain']
    case 'waiting':
      return ['waits for the turn before', 'plain']
    case 'failed':
      return ['failed', 'harm']
    case 'waits':
      return ['waits for a person', 'ochre']
    case 'notRun':
      return [fates[turn.fate], turn.fate === 'missed' ? 'ochre' : 'plain']
    default:
      return ['done', 'glaze']
  }
}

const fates: Record<Turn['fate'], string> = {
  run: 'ran',
  shared: 'ran with another',
  skipped: 'left out by a person',
  paused: 'paused',
  missed: 'missed: Narbit was not running',
  atWork: 'left out: still at work',
}

/** Who or what began a turn. */
export const begunBy = (turn: Turn) =>
  turn.trigger === 'timetable' ? 'the clock' : turn.trigger === 'event' ? turn.startedBy.toLowerCase() : turn.startedBy
