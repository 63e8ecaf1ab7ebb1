import { useQuery } from '@tanstack/react-query'
import { useRouter } from '@tanstack/react-router'
import type { Schemas } from '../../shared/api'
import { at, count, plural, when } from '../../shared/format'
import { queries } from '../../shared/queries'
import { Empty, Loaded } from '../../shared/states'
import { useDesk } from './actions'

/** What was decided at the desk and holds for what comes later, what it did since, and the way to take it back. */
export function LearnedList({ back }: { back: () => void }) {
  const learned = useQuery(queries.learned())
  const desk = useDesk()
  return (
    <>
      <div className="page-head">
        <h1 className="row" style={{ gap: 10 }}>
          <button type="button" className="act" style={{ fontSize: 15 }} onClick={back}>
            Mismatches
          </button>
          <span className="dim" aria-hidden="true">
            ›
          </span>
          What was learned
        </h1>
        <span className="dim">decided once, and not asked again</span>
      </div>
      <Loaded of={learned}>
        {(all) => (
          <section className="sheet" aria-label="What was learned" style={{ overflow: 'auto', minHeight: 0 }}>
            {all.length === 0 && (
              <Empty title="Nothing was learned yet">
                What a SKU is, or which code stands for which: the desk keeps it when a way out says that it holds for what comes later.
              </Empty>
            )}
            {all.map((act) => (
              <Act key={act.actId} act={act} takeBack={() => desk.undo.mutate(act.actId)} />
            ))}
          </section>
        )}
      </Loaded>
    </>
  )
}

function Act({ act, takeBack }: { act: Schemas['Learned']; takeBack: () => void }) {
  const router = useRouter()
  return (
    <div className="line" style={{ gridTemplateColumns: 'minmax(0, 1fr) 230px 96px', alignItems: 'baseline' }}>
      <div className="stack" style={{ gap: 3 }}>
        {act.lessons.map((lesson) => (
          <div key={lesson.words} className="row" style={{ gap: 12, minHeight: 28 }}>
            <button
              type="button"
              className="act"
              style={{ minHeight: 26, textDecoration: act.undoneAt ? 'line-through' : undefined }}
              onClick={() => router.history.push(lesson.link)}
            >
              {lesson.words}
            </button>
            <span className="dim small">
              {lesson.acted === 0 ? 'has not acted since' : `acted on ${plural(lesson.acted, 'record')} since`}
            </span>
          </div>
        ))}
      </div>
      <span className="dim small">
        {act.by}, {at(act.at)}, settled {count(act.count)}
      </span>
      {act.undoneAt ? (
        <span className="dim small">
          taken back by {act.undoneBy} {when(act.undoneAt)}
        </span>
      ) : (
        <button type="button" className="act" onClick={takeBack}>
          Take back
        </button>
      )}
    </div>
  )
}
