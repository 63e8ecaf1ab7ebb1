import { ActionIcon, Kbd, Tooltip, useComputedColorScheme, useMantineColorScheme } from '@mantine/core'
import { useDisclosure, useHotkeys } from '@mantine/hooks'
import { Notifications } from '@mantine/notifications'
import { openSpotlight } from '@mantine/spotlight'
import { IconMoon, IconSun } from '@tabler/icons-react'
import { useQuery } from '@tanstack/react-query'
import { Link, Outlet, useNavigate, useRouterState } from '@tanstack/react-router'
import { useEffect, useRef } from 'react'
import { Dialog } from '../shared/Dialog'
import { count, setForms } from '../shared/format'
import { queries } from '../shared/queries'
import { useToday } from '../shared/today'
import { DayRibbon } from './DayRibbon'
import { type Keys, keysOf } from './keys'
import { Palette } from './Palette'
import { PersonMenu } from './PersonMenu'

export function Shell() {
  const today = useToday()
  if (today.data) setForms(today.data.workspace)
  const scheme = useComputedColorScheme('light')
  const { setColorScheme } = useMantineColorScheme()
  const navigate = useNavigate()
  const [help, helping] = useDisclosure(false)
  const leader = useRef(0)
  const path = useRouterState({ select: (s) => s.location.pathname })
  const keys = keysOf(path)
  const main = useRef<HTMLElement>(null)
  useEffect(() => {
    document.title = `${titleOf(path)} · Narbit`
  }, [path])

  const go = (to: '/' | '/systems' | '/pair-desk' | '/lanes' | '/runs' | '/synced' | '/orders' | '/timetable' | '/mismatches') => () => {
    if (Date.now() - leader.current < 1200) void navigate({ to })
  }
  useHotkeys([
    [
      'g',
      () => {
        leader.current = Date.now()
      },
    ],
    ['t', go('/')],
    ['s', go('/systems')],
    ['p', go('/pair-desk')],
    ['l', go('/lanes')],
    ['r', go('/runs')],
    ['w', go('/synced')],
    ['o', go('/orders')],
    ['j', go('/timetable')],
    ['m', go('/mismatches')],
    ['/', () => document.querySelector<HTMLInputElement>('input[data-search]')?.focus()],
    ['shift+?', helping.toggle],
  ])
  // Whoever is typing may look for something too.
  useHotkeys([['mod+K', () => openSpotlight()]], [])

  const couples = useQuery(queries.couples())
  const unpaired = couples.data?.reduce((sum, c) => sum + c.counts.unpaired, 0) ?? 0
  const orders = useQuery(queries.orders({})(0, 1))
  const held = orders.data?.stages.find((s) => s.stage === 'held')?.count ?? 0
  const mismatches = today.data?.causes.reduce((sum, c) => sum + c.count, 0) ?? 0
  return (
    <div className="shell">
      <header className="top">
        <Link to="/" className="brand">
          <svg viewBox="0 0 32 32" aria-hidden="true">
            <rect x="5" y="6" width="9" height="20" rx="1.5" stroke="none" />
            <path d="M18 7h8v18h-8z" fill="none" strokeWidth="2.4" />
            <path d="M14 13h4M14 19h4" stroke="var(--clay)" strokeWidth="2.6" />
          </svg>
          Narbit
        </Link>
        <DayRibbon />
        <div className="top-tools">
          <button type="button" className="find" onClick={() => openSpotlight()}>
            Find or do <Kbd>Ctrl K</Kbd>
          </button>
          <Tooltip label={scheme === 'dark' ? 'Light' : 'Dark'}>
            <ActionIcon
              variant="subtle"
              color="var(--ink-2)"
              aria-label={scheme === 'dark' ? 'Use light colours' : 'Use dark colours'}
              onClick={() => setColorScheme(scheme === 'dark' ? 'light' : 'dark')}
            >
              {scheme === 'dark' ? <IconSun size={17} /> : <IconMoon size={17} />}
            </ActionIcon>
          </Tooltip>
          {today.data?.workspace.name && <PersonMenu />}
        </div>
      </header>
      <nav className="rail" aria-label="Pages">
        <Link to="/" activeOptions={{ exact: true }}>
          Today
        </Link>
        <div className="rail-head">Set up</div>
        <Link to="/systems">Systems</Link>
        <Link to="/pair-desk">Pair desk {unpaired > 0 && <span className="count">{count(unpaired)}</span>}</Link>
        <Link to="/lanes">Lanes</Link>
        <Link to="/synced">What is synced</Link>
        <div className="rail-head">Run</div>
        <Link to="/orders" search={held > 0 ? { show: 'held' } : {}}>
          Orders {held > 0 && <span className="count">{count(held)}</span>}
        </Link>
        <Link to="/mismatches">Mismatches {mismatches > 0 && <span className="count">{count(mismatches)}</span>}</Link>
        <Link to="/timetable">Timetable</Link>
        <Link to="/runs">Runs</Link>
        <Link to="/written">What was written</Link>
        <Link to="/exposure">Exposure</Link>
        <Link to="/proof">Proof of step</Link>
        <div className="rail-head">Workspace</div>
        <Link to="/settings">Settings</Link>
      </nav>
      <main className="main" ref={main}>
        <Outlet />
      </main>
      {/* Over the ribbon, where no button waits to be pressed; within the pages, as what is said may lead to one. */}
      <Notifications position="top-center" containerWidth={460} />
      <Palette />
      <Dialog opened={help} close={helping.close} title={keys.name ? `Keys of ${keys.name}` : 'Keys'}>
        <div className="stack">
          {keys.own.length > 0 && <KeyList keys={keys.own} />}
          {keys.own.length > 0 && <div className="rail-head">Everywhere</div>}
          <KeyList keys={keys.everywhere} />
          <Link to="/help" onClick={helping.close}>
            What the words mean
          </Link>
        </div>
      </Dialog>
    </div>
  )
}

function KeyList({ keys }: { keys: Keys }) {
  return (
    <dl className="field-grid" style={{ margin: 0 }}>
      {keys.map(([key, what]) => (
        <div key={key} style={{ display: 'contents' }}>
          <dt>
            <Kbd>{key}</Kbd>
          </dt>
          <dd style={{ margin: 0 }}>{what}</dd>
        </div>
      ))}
    </dl>
  )
}

function titleOf(path: string) {
  const [first, second, third] = path.split('/').filter(Boolean)
  if (!first) return 'Today'
  const name = first[0]?.toUpperCase() + first.slice(1)
  return [third, second, name].filter(Boolean).join(' · ')
}
