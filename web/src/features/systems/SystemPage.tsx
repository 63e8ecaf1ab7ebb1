import { Button } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from '@tanstack/react-router'
import { useReadSystem } from '../../shared/acts'
import { queries } from '../../shared/queries'
import { SystemMark } from '../../shared/SystemMark'
import { Empty, Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'
import { useTestSystem } from './actions'
import { BringFile } from './BringFile'
import { Connection } from './Connection'
import { Fields } from './Fields'
import { Hook } from './Hook'
import { Records } from './Records'
import { Standing } from './Removed'
import { kinds, Reach, ReadLines } from './SystemsPage'
import { Versions } from './Versions'

export function SystemPage() {
  const { system: id } = useParams({ from: '/systems/$system' })
  const [state, set] = useView('/systems/$system')
  const systems = useQuery(queries.systems())
  const test = useTestSystem()
  const read = useReadSystem()
  const tab = state.tab ?? 'records'
  return (
    <Loaded of={systems}>
      {(all) => {
        const system = all.find((s) => s.id === id)
        if (!system) return <Empty title="There is no such system">It may have been renamed.</Empty>
        return (
          <div className="page page-fixed">
            <div className="page-head">
              <SystemMark system={system} />
              <h1>{system.name}</h1>
              <span className="dim">
                {kinds[system.kind]}
                {system.isHub ? ', the hub' : ''}
              </span>
              <Reach system={system} />
              <span className="grow" />
              <Button loading={test.isPending} onClick={() => test.mutate(system.id)}>
                Test
              </Button>
              <Button onClick={() => read.mutate({ system: id, full: true })}>Read everything</Button>
              <Button renderRoot={(p) => <Link {...p} to="/systems/$system/describe" params={{ system: id }} />}>How it works</Button>
            </div>
            <div className="sheet">
              <ReadLines system={system} />
            </div>
            <fieldset className="row" style={{ border: 0, margin: 0, padding: 0 }} aria-label="What to show">
              {['records', 'fields', 'connection', 'versions'].map((t) => (
                <button key={t} type="button" className="chip slim" aria-pressed={tab === t} onClick={() => set({ tab: t })}>
                  {t[0]?.toUpperCase()}
                  {t.slice(1)}
                </button>
              ))}
            </fieldset>
            {tab === 'records' && <Records system={system} />}
            {tab === 'fields' && <Fields id={id} />}
            {tab === 'versions' && <Versions system={system} />}
            {tab === 'connection' && (
              <div className="side stack">
                <Connection key={system.revision} system={system} />
                {system.sendsWebhooks && <Hook system={system} />}
                {system.byFiles && <BringFile system={system} />}
                <Standing system={system} />
              </div>
            )}
          </div>
        )
      }}
    </Loaded>
  )
}
