import { Button } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import type { Schemas } from '../../shared/api'
import { count, plural } from '../../shared/format'
import { queries } from '../../shared/queries'
import { Loaded } from '../../shared/states'
import { type Couple, useDesk } from './actions'

type Way = Schemas['StockTakingWay']

/** Three ways to begin with a system, each with what it would do. */
export function StockTaking({ couple }: { couple: Couple }) {
  const desk = useDesk(couple.id)
  const navigate = useNavigate({ from: '/pair-desk/$couple' })
  const forecast = useQuery(queries.stockTaking(couple.id))
  const start = (way: Way) => desk.takeStock.mutate(way, { onSuccess: () => void navigate({ search: {} }) })
  const busy = desk.takeStock.isPending || couple.taking
  return (
    <Loaded of={forecast}>
      {(f) => {
        const look = f.likely + f.ambiguous + f.otherAlone
        const ways: { way: Way; title: string; about: string; lines: [number, string][] }[] = [
          {
            way: 'byHand',
            title: 'Choose records by hand',
            about: 'Nothing is paired before you say so.',
            lines: [
              [0, 'pairs made now'],
              [f.certain + f.likely + f.ambiguous + f.hubAlone + f.otherAlone, 'records wait for you'],
            ],
          },
          {
            way: 'takeOver',
            title: `Take over what ${couple.other.name} has`,
            about: 'What matches is paired; what it does not have is set aside. New certain pairs are linked by themselves from then on.',
            lines: [
              [f.certain, 'certain pairs accepted'],
              [f.hubAlone, `${couple.hubLabel} set aside, as they are not there`],
              [look, 'records wait for you'],
            ],
          },
          {
            way: 'publish',
            title: `Publish everything that ${couple.hub.name} has`,
            about: 'What matches is paired; the rest is planned to be created there, and goes through a preview first.',
            lines: [
              [f.certain, 'certain pairs accepted'],
              [f.hubAlone, `${couple.otherLabel} planned to be created`],
              [look, 'records wait for you'],
            ],
          },
        ]
        return (
          <div style={{ display: 'grid', gridTemplateColumns: 'repeat(3, minmax(0, 1fr))', gap: 14, alignItems: 'stretch' }}>
            {ways.map((w) => (
              <section key={w.way} className="sheet pad stack" aria-labelledby={`way-${w.way}`}>
                <h2 id={`way-${w.way}`} style={{ margin: 0, padding: 0, fontSize: 16 }}>
                  {w.title}
                </h2>
                <span className="dim" style={{ minHeight: 60 }}>
                  {w.about}
                </span>
                <dl style={{ margin: 0, display: 'grid', gridTemplateColumns: 'auto 1fr', gap: '6px 12px' }}>
                  {w.lines.map(([n, text]) => (
                    <div key={text} style={{ display: 'contents' }}>
                      <dt className="num strong" style={{ fontSize: 18 }}>
                        {count(n)}
                      </dt>
                      <dd style={{ margin: 0, alignSelf: 'center' }}>{text}</dd>
                    </div>
                  ))}
                </dl>
                <span className="grow" />
                {couple.way === w.way && <span className="tag glaze">chosen</span>}
                <Button
                  variant={w.way === 'takeOver' ? 'filled' : 'default'}
                  disabled={busy}
                  loading={desk.takeStock.isPending && desk.takeStock.variables === w.way}
                  onClick={() => start(w.way)}
                >
                  {w.way === 'byHand'
                    ? 'Begin by hand'
                    : w.way === 'takeOver'
                      ? `Take over, ${plural(f.certain + f.hubAlone, 'decision')}`
                      : `Publish, ${plural(f.certain + f.hubAlone, 'decision')}`}
                </Button>
              </section>
            ))}
          </div>
        )
      }}
    </Loaded>
  )
}
