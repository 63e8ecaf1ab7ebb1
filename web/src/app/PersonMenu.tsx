import { Menu } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useQuery } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { useKeepWorkspace } from '../features/settings/workspace'
import { queries } from '../shared/queries'

/** Who is at the screen, and the others who work here: whoever sits down says who they are. */
export function PersonMenu() {
  const workspace = useQuery(queries.workspace())
  const keep = useKeepWorkspace()
  const navigate = useNavigate()
  const settings = workspace.data?.settings
  if (!settings) return null
  const change = (person: string) =>
    keep({ ...settings, person }).catch((error: Error) => notifications.show({ color: 'var(--harm)', message: error.message }))
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <button type="button" className="person" title="Who is at the screen">
          {settings.person}
        </button>
      </Menu.Target>
      <Menu.Dropdown>
        {settings.people.map((p) => (
          <Menu.Item key={p.name} disabled={p.name === settings.person} onClick={() => void change(p.name)}>
            {p.name === settings.person ? `${p.name} is at the screen` : `It is ${p.name}`}
          </Menu.Item>
        ))}
        <Menu.Item onClick={() => void navigate({ to: '/settings' })}>Who works here …</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  )
}
