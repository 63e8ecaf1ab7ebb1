import { useMantineColorScheme } from '@mantine/core'
import { Spotlight, type SpotlightActionData } from '@mantine/spotlight'
import { useQuery } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { useCouples } from '../features/pairs/actions'
import { useStartRun } from '../features/runs/actions'
import { useReadSystem, useTestSystem } from '../features/systems/actions'
import { api, type LaneSummary, take } from '../shared/api'

// Runs are found by their own word.
const stepsOf = (lane: LaneSummary) => lane.work.steps.filter((s) => s.key !== 'runs')

/** One palette for everything: go anywhere, start anything. */
export function Palette() {
  const navigate = useNavigate()
  const { toggleColorScheme } = useMantineColorScheme()
  const lanes = useQuery({ queryKey: ['lanes'], queryFn: () => take(api.GET('/api/lanes')) })
  const systems = useQuery({ queryKey: ['systems'], queryFn: () => take(api.GET('/api/systems')) })
  const couples = useCouples()
  const start = useStartRun()
  const read = useReadSystem()
  const test = useTestSystem()

  const actions: SpotlightActionData[] = [
    { id: 'today', label: 'Today', onClick: () => void navigate({ to: '/' }) },
    { id: 'systems', label: 'Systems', onClick: () => void navigate({ to: '/systems' }) },
    { id: 'pair-desk', label: 'Pair desk', onClick: () => void navigate({ to: '/pair-desk' }) },
    { id: 'lanes', label: 'Lanes', onClick: () => void navigate({ to: '/lanes' }) },
    { id: 'synced', label: 'What is synced', onClick: () => void navigate({ to: '/synced' }) },
    { id: 'exposure', label: 'Exposure', onClick: () => void navigate({ to: '/exposure' }) },
    { id: 'runs', label: 'Runs', onClick: () => void navigate({ to: '/runs' }) },
    { id: 'colours', label: 'Light or dark', onClick: toggleColorScheme },
    ...(couples.data ?? []).map((c) => ({
      id: `pair-${c.id}`,
      label: `Pair ${c.other.name}`,
      description: `${c.hubLabel} with ${c.otherLabel}`,
      onClick: () => void navigate({ to: '/pair-desk/$couple', params: { couple: String(c.id) } }),
    })),
    ...(lanes.data ?? []).flatMap((lane) => {
      const to = `${lane.name} to ${lane.target.name}`
      const name = `from ${lane.source.name}`
      return [
        ...stepsOf(lane).map((step) => ({
          id: `${lane.id}-${step.key}`,
          label: `${to}: ${step.label.toLowerCase()}`,
          description: name,
          onClick: () => void navigate({ to: `/lanes/$lane/${step.key as 'preview'}`, params: { lane: lane.id } }),
        })),
        {
          id: `${lane.id}-see`,
          label: `Preview ${to} now`,
          description: name,
          onClick: () => start.mutate({ lane: lane.id, preview: true }),
        },
        {
          id: `${lane.id}-run`,
          label: `Run ${to} now`,
          description: `${name}; sends at once`,
          onClick: () => start.mutate({ lane: lane.id, preview: false }),
        },
      ]
    }),
    ...(systems.data ?? []).flatMap((system) => [
      {
        id: system.id,
        label: system.name,
        onClick: () => void navigate({ to: '/systems/$system', params: { system: system.id } }),
      },
      { id: `${system.id}-test`, label: `Test ${system.name}`, onClick: () => test.mutate(system.id) },
      {
        id: `${system.id}-read`,
        label: `Read ${system.name}`,
        onClick: () => read.mutate({ system: system.id, full: false }),
      },
    ]),
  ]
  return (
    <Spotlight
      actions={actions}
      shortcut={null}
      limit={9}
      highlightQuery
      nothingFound="Nothing by that name"
      searchProps={{ placeholder: 'Where to, or what to do?', 'aria-label': 'Where to, or what to do?' }}
    />
  )
}
