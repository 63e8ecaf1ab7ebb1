import { useMutation } from '@tanstack/react-query'
import { api, take } from '../../shared/api'
import { count } from '../../shared/format'
import { sayRefusal } from '../../shared/refusal'
import { useLetThereCount } from './actions'
import type { Found } from './choice'

/** What can be done with the lines that are chosen. */
export type Chosen = { only: (found: Found) => void; add: (found: Found) => void; without: (found: Found) => void; all: () => void }

export type WriteFilter = { show?: string; search?: string; field?: string; least?: number; cause?: string }

/** Chooses, in one act, everything that a filter leaves to be seen. */
export function Shown(props: {
  run: number
  /** Whether some of it asks which side's value counts. */
  asks: boolean
  filter: WriteFilter
  shown: number | undefined
  sends: boolean
  choice: Chosen
  whole: boolean
}) {
  const { run, filter, sends, choice } = props
  const ids = useMutation({
    mutationFn: (_: (found: Found) => void) =>
      take(
        api.GET('/api/runs/{id}/writes/ids', {
          params: { path: { id: run }, query: { ...filter, to: sends ? 'send' : 'takeBack' } },
        }),
      ),
    onSuccess: (found, act) => act(found),
    onError: sayRefusal,
  })
  const there = useLetThereCount(run)
  const filtered = Object.values(filter).some((v) => v !== undefined && v !== '')
  if (!filtered && props.whole) return null
  return (
    <div className="row small" style={{ gap: 14 }}>
      {filtered && (props.shown ?? 0) > 0 && (
        <>
          <span className="dim">{count(props.shown ?? 0)} shown:</span>
          {fitting(props).map(([text, act]) => (
            <button key={text} type="button" className="act" disabled={ids.isPending} onClick={() => ids.mutate(act)}>
              {text}
            </button>
          ))}
          {props.asks && (
            <button
              type="button"
              className="act"
              disabled={there.isPending}
              onClick={() => ids.mutate((found) => there.mutate(found.byName, { onSuccess: () => choice.without(found) }))}
            >
              What is there counts
            </button>
          )}
        </>
      )}
      {!props.whole && (
        <button type="button" className="act" onClick={choice.all}>
          All again
        </button>
      )}
    </div>
  )
}

/** While nothing is named to be taken back, all of it is, and there is nothing to add to. */
function fitting({ sends, whole, choice }: { sends: boolean; whole: boolean; choice: Chosen }) {
  const acts: [string, (found: Found) => void][] = [
    [sends ? 'Choose only these' : 'Take back only these', choice.only],
    [sends ? 'Choose these too' : 'Take back these too', choice.add],
    ['Leave these out', choice.without],
  ]
  return !sends && whole ? acts.slice(0, 1) : acts
}
