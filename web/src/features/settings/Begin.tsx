import { Button, TextInput } from '@mantine/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import { queries } from '../../shared/queries'
import { Failed, Loaded } from '../../shared/states'
import { AsFiles } from './AsFiles'
import { WorkspaceFields } from './WorkspaceFields'
import { blank, type Settings, useKeepWorkspace, withPerson } from './workspace'

/** An empty folder: what the workspace is called, and who is here. */
export function Begin() {
  const workspace = useQuery(queries.workspace())
  return (
    <div className="page">
      <div className="page-head">
        <h1>Begin here</h1>
        <span className="dim">nothing is set up yet; all of this can be changed later under Settings</span>
      </div>
      <Loaded of={workspace}>{(state) => <First zones={state.timeZones} />}</Loaded>
      <AsFiles />
    </div>
  )
}

function First({ zones }: { zones: string[] }) {
  const [settings, setSettings] = useState(blank)
  const keepWorkspace = useKeepWorkspace()
  const keep = useMutation({ mutationFn: () => keepWorkspace(settings) })
  const set = (change: Partial<Settings>) => setSettings((s) => ({ ...s, ...change }))
  return (
    <section className="sheet pad stack" aria-label="The workspace">
      <div className="field-grid">
        <WorkspaceFields settings={settings} zones={zones} set={set} />
        <label htmlFor="your-name">Your name</label>
        <TextInput
          id="your-name"
          w={320}
          maxLength={80}
          value={settings.person}
          onChange={(e) => setSettings(withPerson(settings, e.currentTarget.value))}
        />
      </div>
      {keep.isError && <Failed error={keep.error} />}
      <div>
        <Button variant="filled" disabled={!settings.name || !settings.person} loading={keep.isPending} onClick={() => keep.mutate()}>
          Set it up
        </Button>
      </div>
    </section>
  )
}

/** What is still to be done before the first preview, in the order of the work; nothing once a lane is there. */
export function NextSteps({ hub, systems, lanes }: { hub: boolean; systems: number; lanes: number }) {
  if (lanes > 0) return null
  const steps: [done: boolean, text: string, way: React.ReactNode][] = [
    [
      hub,
      'The hub: the system that the others are kept in step with',
      <Link key="hub" to="/systems/new" className="act">
        Add a system
      </Link>,
    ],
    [
      systems > 0,
      'Another system: a store, a marketplace, a till, a supplier',
      <Link key="other" to="/systems/new" className="act">
        Add a system
      </Link>,
    ],
    [
      false,
      'A lane: what flows between two of them',
      <Link key="lane" to="/lanes" search={{ tab: 'new' }} className="act">
        Make a lane
      </Link>,
    ],
  ]
  const next = steps.findIndex(([done]) => !done)
  return (
    <section className="sheet" aria-label="What comes next">
      <div className="sheet-head">What comes next</div>
      {steps.map(([done, text, way], i) => (
        <div key={text} className="line" style={{ gridTemplateColumns: '80px minmax(0, 1fr) auto' }}>
          <span className={`tag ${done ? 'glaze' : i === next ? 'clay' : 'plain'}`} style={{ justifySelf: 'start' }}>
            {done ? 'done' : i === next ? 'now' : 'later'}
          </span>
          <span className={i === next ? 'strong' : 'dim'}>{text}</span>
          {!done && i === next ? way : <span />}
        </div>
      ))}
    </section>
  )
}
