import { ActionIcon, Kbd, Tooltip, useComputedColorScheme, useMantineColorScheme } from '@mantine/core'
import { useDisclosure, useHotkeys } from '@mantine/hooks'
import { openSpotlight } from '@mantine/spotlight'
import { IconMoon, IconSun } from '@tabler/icons-react'
import { useQuery } from '@tanstack/react-query'
import { Link, Outlet, useNavigate, useRouterState } from '@tanstack/react-router'
import { useEffect, useRef } from 'react'
import { useCouples } from '../features/pairs/actions'
import { api, take } from '../shared/api'
import { Dialog } from '../shared/Dialog'
import { count, setZone } from '../shared/format'
import { DayRibbon } from './DayRibbon'
import { Palette } from './Palette'

const keys: [string, string][] = [
  ['Ctrl K', 'find anything or do anything'],
  ['g t', 'Today'],
  ['g s', 'Systems'],
  ['g p', 'Pair desk'],
  ['g l', 'Lanes'],
  ['g r', 'Runs'],
  ['g w', 'What is synced'],
  ['/', 'search in this list'],
  ['j k', 'next and previous row of a list, or field of a map'],
  ['Space', 'choose or leave out the row, before sending'],
  ['a', 'pair desk: accept'],
  ['n b 1–5', 'pair desk: next, previous, or that candidate'],
  ['x', 'pair desk: set aside'],
  ['h', 'pair desk: make a kit'],
  ['c', 'pair desk: create there'],
  ['d', 'pair desk: unpair, or take a set-aside back'],
  ['u', 'pair desk: undo the last decision'],
  ['A X', 'pair desk: accept, or set aside, all that is shown'],
  ['v', 'pair desk: review and commit'],
  ['Ctrl Enter', 'review: commit'],
  ['s S', 'field map: accept the suggestion, or all of them'],
  ['?', 'this list'],
]

export function Shell() {
  const today = useQuery({ queryKey: ['today'], queryFn: () => take(api.GET('/api/today')) })
  if (today.data) setZone(today.data.workspace.timeZone)
  const scheme = useComputedColorScheme('light')
  const { setColorScheme } = useMantineColorScheme()
  const navigate = useNavigate()
  const [help, helping] = useDisclosure(false)
  const leader = useRef(0)
  const path = useRouterState({ select: (s) => s.location.pathname })
  const main = useRef<HTMLElement>(null)
  useEffect(() => {
    document.title = `${titleOf(path)} · Narbit`
  }, [path])

  const go = (to: '/' | '/systems' | '/pair-desk' | '/lanes' | '/runs' | '/synced') => () => {
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
    ['/', () => document.querySelector<HTMLInputElement>('input[data-search]')?.focus()],
    ['shift+?', helping.toggle],
    ['mod+K', () => openSpotlight()],
  ])

  const couples = useCouples()
  const unpaired = couples.data?.reduce((sum, c) => sum + c.counts.unpaired, 0) ?? 0
  const waiting = today.data?.decisions.reduce((sum, d) => sum + d.count, 0) ?? 0
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
          <span className="dim">{today.data?.workspace.person}</span>
        </div>
      </header>
      <nav className="rail" aria-label="Pages">
        <Link to="/" activeOptions={{ exact: true }}>
          Today {waiting > 0 && <span className="count">{count(waiting)}</span>}
        </Link>
        <div className="rail-head">Set up</div>
        <Link to="/systems">Systems</Link>
        <Link to="/pair-desk">Pair desk {unpaired > 0 && <span className="count">{count(unpaired)}</span>}</Link>
        <Link to="/lanes">Lanes</Link>
        <Link to="/synced">What is synced</Link>
        <div className="rail-head">Run</div>
        <Link to="/runs">Runs</Link>
        <Link to="/exposure">Exposure</Link>
      </nav>
      <main className="main" ref={main}>
        <Outlet />
      </main>
      <Palette />
      <Dialog opened={help} close={helping.close} title="Keys of this page">
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
      </Dialog>
    </div>
  )
}

function titleOf(path: string) {
  const [first, second, third] = path.split('/').filter(Boolean)
  if (!first) return 'Today'
  const name = first[0]?.toUpperCase() + first.slice(1)
  return [third, second, name].filter(Boolean).join(' · ')
}
