import { Button } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { count, plural } from '../../shared/format'
import { queries } from '../../shared/queries'
import { type Couple, useDesk } from './actions'

/** What was learned of the way a system writes SKUs, offered as a rule for it. */
export function Habit({ couple }: { couple: Couple }) {
  const desk = useDesk(couple.id)
  const habit = useQuery(queries.habit(couple.id))
  const h = habit.data
  if (!h?.words || !(h.offer || h.inForce)) return null
  if (h.offer)
    return (
      <div className="note ochre" style={{ padding: '6px 12px', alignItems: 'center' }}>
        <span className="grow">
          {h.words}: {count(h.offer.shown)} of {count(h.offer.of)} pairs whose SKUs differ show it;{' '}
          {plural(h.offer.wouldHelp, 'open record')} {h.offer.wouldHelp === 1 ? 'is' : 'are'} written like that.
        </span>
        <Button
          size="xs"
          loading={desk.habit.isPending}
          onClick={() => desk.habit.mutate({ before: h.offer?.habit.before ?? null, after: h.offer?.habit.after ?? null })}
        >
          Use as a rule
        </Button>
      </div>
    )
  return (
    <div className="dim small row" style={{ gap: 6 }}>
      Rule: {h.words}.
      <button type="button" className="act" onClick={() => desk.habit.mutate({ before: null, after: null })}>
        Drop it
      </button>
    </div>
  )
}
