import { Button, Select, TextInput } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import type { Schemas } from '../../shared/api'
import { queries } from '../../shared/queries'
import { same } from '../../shared/same'
import { Failed, Loaded } from '../../shared/states'
import { AsFiles } from './AsFiles'
import { WorkspaceFields } from './WorkspaceFields'
import { blank, type Settings, useKeepWorkspace, withPeople } from './workspace'

/** What holds for the whole workspace, and who works here. */
export function SettingsPage() {
  const workspace = useQuery(queries.workspace())
  const systems = useQuery(queries.systems())
  return (
    <div className="page">
      <div className="page-head">
        <h1>Settings</h1>
        <span className="dim">what holds for the whole workspace</span>
        <span className="grow" />
        <Link to="/settings/told" className="act">
          Being told by mail
        </Link>
      </div>
      <Loaded of={workspace}>{(state) => <Loaded of={systems}>{(all) => <Form state={state} systems={all} />}</Loaded>}</Loaded>
      <AsFiles />
    </div>
  )
}

function Form({ state, systems }: { state: Schemas['WorkspaceState']; systems: Schemas['SystemSummary'][] }) {
  const kept = state.settings ?? blank()
  const [settings, setSettings] = useState(kept)
  const [tried] = useDebouncedValue(settings, 250)
  const keepWorkspace = useKeepWorkspace()
  const set = (change: Partial<Settings>) => setSettings((s) => ({ ...s, ...change }))
  const changed = !same(settings, kept)
  const effect = useQuery({
    enabled: changed,
    ...queries.workspaceEffect(tried),
  })
  const keep = useMutation({
    mutationFn: () => keepWorkspace(settings),
    onSuccess: (understood) => {
      setSettings(understood)
      notifications.show({ color: 'var(--glaze)', message: 'Saved.' })
    },
  })
  return (
    <>
      <section className="sheet pad" aria-label="Workspace">
        <div className="field-grid">
          <WorkspaceFields settings={settings} zones={state.timeZones} set={set} />
          <span>Hub</span>
          <Select
            aria-label="Hub"
            w={320}
            placeholder="none yet"
            clearable
            data={systems.map((s) => ({ value: s.id, label: s.name }))}
            value={settings.hubId ?? null}
            onChange={(hubId) => set({ hubId })}
          />
        </div>
      </section>
      <People settings={settings} set={setSettings} />
      {changed && (
        <section className="draft" aria-label="Save">
          {keep.isError && <Failed error={keep.error} />}
          {(effect.data?.sentences ?? []).map((s) => (
            <div key={s} className="note ochre">
              {s}
            </div>
          ))}
          <div className="row">
            <span className="grow dim">Not saved.</span>
            <Button onClick={() => setSettings(kept)}>Throw away</Button>
            <Button variant="filled" loading={keep.isPending} onClick={() => keep.mutate()}>
              Save
            </Button>
          </div>
        </section>
      )}
    </>
  )
}

function People({ settings, set }: { settings: Settings; set: (settings: Settings) => void }) {
  const { people } = settings
  const put = (i: number, change: Partial<Settings['people'][number]>) => {
    const before = people[i]?.name
    const now = people.map((p, j) => (i === j ? { ...p, ...change } : p))
    set({ ...settings, people: now, person: before === settings.person ? (now[i]?.name ?? '') : settings.person })
  }
  return (
    <section className="sheet" aria-label="People">
      <div className="sheet-head">
        <span className="grow">Who works here</span>
        <Button size="xs" onClick={() => set({ ...settings, people: [...people, { name: '', mail: null }] })}>
          Add a person
        </Button>
      </div>
      {people.map((p, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a person has no other name than the one that is typed here
        <div key={i} className="line" style={{ gridTemplateColumns: '240px 320px minmax(0, 1fr) auto' }}>
          <TextInput
            aria-label={`Name of person ${i + 1}`}
            placeholder="name"
            value={p.name}
            onChange={(e) => put(i, { name: e.currentTarget.value })}
          />
          <TextInput
            aria-label={`Mail of person ${i + 1}`}
            placeholder="mail address"
            value={p.mail ?? ''}
            onChange={(e) => put(i, { mail: e.currentTarget.value || null })}
          />
          {p.name === settings.person ? (
            <span className="tag glaze" style={{ justifySelf: 'start' }}>
              at the screen
            </span>
          ) : (
            <button type="button" className="act" style={{ justifySelf: 'start' }} onClick={() => set({ ...settings, person: p.name })}>
              It is me
            </button>
          )}
          <Button
            size="compact-xs"
            aria-label={`Take ${p.name || 'this person'} out`}
            disabled={people.length === 1}
            onClick={() =>
              set(
                withPeople(
                  settings,
                  people.filter((_, j) => j !== i),
                ),
              )
            }
          >
            ✕
          </Button>
        </div>
      ))}
    </section>
  )
}
