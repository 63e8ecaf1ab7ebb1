import { useMantineColorScheme } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { Spotlight } from '@mantine/spotlight'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useRouter } from '@tanstack/react-router'
import { type ReactNode, useEffect, useState } from 'react'
import { useTestSystem } from '../features/systems/actions'
import { useReadSystem, useStartRun } from '../shared/acts'
import type { LaneSummary, Schemas } from '../shared/api'
import { queries } from '../shared/queries'
import { RunNow } from '../shared/RunNow'
import { SystemMark } from '../shared/SystemMark'
import { words } from '../shared/words'

/** Something to go to or to do. */
type Entry = { id: string; label: string; more?: string; mark?: ReactNode; act: () => void }
type Group = { name: string; entries: Entry[] }

const mostOfGroup = 6

/** One palette for everything: records of all systems, pages, lanes, runs, acts and words; grouped, each with what can be done. */
export function Palette() {
  const [text, setText] = useState('')
  const [runs, setRuns] = useState<LaneSummary>()
  const [asked] = useDebouncedValue(text.trim(), 30)
  const found = useQuery({
    enabled: asked.length > 1,
    ...queries.search(asked),
    placeholderData: keepPreviousData,
    staleTime: 5000,
  })
  const router = useRouter()
  const go: Go = (address) => () => router.history.push(address)
  const places = usePlaces(go, setRuns)
  const records = asked.length > 1 ? recordGroups(found.data, go) : []
  const named = places.map((g) => ({ ...g, entries: fitting(g.entries, text) }))
  // What has the words comes before what is only like them.
  const ordered = found.data?.isLike ? [...named, ...records] : [...records, ...named]
  const groups = ordered.filter((g) => g.entries.length > 0)
  useFirstSelected(groups.map((g) => g.entries.map((e) => e.id).join()).join())
  return (
    <>
      <Spotlight.Root
        query={text}
        onQueryChange={setText}
        shortcut={null}
        scrollable
        maxHeight={460}
        attributes={{ content: { 'aria-label': 'Find or do' } }}
      >
        <Spotlight.Search placeholder="Where to, what to do, or a SKU, barcode or name?" aria-label="Where to, or what to do?" />
        <Spotlight.ActionsList>
          {groups.map((g) => (
            <Spotlight.ActionsGroup key={g.name} label={g.name}>
              {g.entries.map((e) => (
                <Spotlight.Action key={e.id} onClick={e.act}>
                  <span className="row" style={{ width: '100%', gap: 8 }}>
                    {e.mark}
                    <span className="grow clip">{e.label}</span>
                    {e.more && <span className="dim small clip">{e.more}</span>}
                  </span>
                </Spotlight.Action>
              ))}
            </Spotlight.ActionsGroup>
          ))}
          {groups.length === 0 && <Spotlight.Empty>Nothing by that name</Spotlight.Empty>}
        </Spotlight.ActionsList>
      </Spotlight.Root>
      {runs && <RunNow lane={runs} opened close={() => setRuns(undefined)} />}
    </>
  )
}

/** Answers come while somebody types: where the entry that was marked has gone, the first one is. */
function useFirstSelected(entries: string) {
  // biome-ignore lint/correctness/useExhaustiveDependencies: looks again when there are other entries
  useEffect(() => {
    const actions = document.querySelectorAll('.mantine-Spotlight-actionsList [data-action]')
    if ([...actions].every((a) => !a.hasAttribute('data-selected'))) actions[0]?.setAttribute('data-selected', 'true')
  }, [entries])
}

/** Entries that have every word that was typed; without words, only the first few. */
function fitting(entries: Entry[], text: string) {
  const typed = text.toLowerCase().split(' ').filter(Boolean)
  const has = (e: Entry) => typed.every((t) => `${e.label} ${e.more ?? ''}`.toLowerCase().includes(t))
  return entries.filter(has).slice(0, mostOfGroup)
}

/** Records by their system; the first of all with what can be done with it. */
function recordGroups(found: Schemas['Findings'] | undefined, go: Go): Group[] {
  if (!found) return []
  const groups: Group[] = []
  const first = found.records[0]
  if (first) groups.push({ name: 'Best match', entries: [openRecord(first, go), ...actsOn(first, go)] })
  for (const r of found.records.slice(1)) {
    const group = groups.find((g) => g.name === r.system.name)
    if (!group) groups.push({ name: r.system.name, entries: [openRecord(r, go)] })
    else if (group.entries.length < mostOfGroup) group.entries.push(openRecord(r, go))
  }
  if (found.run !== null)
    groups.unshift({ name: 'Runs', entries: [{ id: `run-${found.run}`, label: `Run ${found.run}`, act: go(`/runs/${found.run}`) }] })
  return groups
}

type Found = Schemas['FoundItem']

const nameOf = (r: Found) => r.caption ?? r.reference ?? r.key
const row = (r: Found) => {
  const key = encodeURIComponent(JSON.stringify(r.key))
  return `/systems/${r.system.id}?kind=${r.kind}&row=${key}&search=${key}`
}

/** Makes what leads to an address. */
type Go = (address: string) => () => void

const openRecord = (r: Found, go: Go): Entry => ({
  id: `${r.system.id}-${r.kind}-${r.key}`,
  label: nameOf(r),
  more: r.reference ?? r.key,
  mark: <SystemMark system={r.system} />,
  act: go(r.isHub && r.kind === 'item' ? `/items/${encodeURIComponent(r.key)}` : row(r)),
})

function actsOn(r: Found, go: Go): Entry[] {
  const entry = (id: string, label: string, address: string): Entry => ({ id: `${id}-${r.key}`, label, more: nameOf(r), act: go(address) })
  const text = encodeURIComponent(JSON.stringify(r.reference ?? r.key))
  const acts = [entry('row', `As read from ${r.system.name}`, row(r))]
  if (r.kind === 'item') {
    acts.push(entry('history', 'What it was before, and who set it', `/systems/${r.system.id}/records/${encodeURIComponent(r.key)}`))
    acts.push(entry('synced', 'What is synced of it', `/synced?search=${text}`))
  }
  if (r.coupleId !== null) acts.push(entry('pair', 'Its pair', `/pair-desk/${r.coupleId}?show=paired&search=${text}`))
  return acts
}

/** Pages, lanes, systems, acts and words, by what they are called. */
function usePlaces(go: Go, askRun: (lane: LaneSummary) => void): Group[] {
  const { toggleColorScheme } = useMantineColorScheme()
  const lanes = useQuery(queries.lanes())
  const systems = useQuery(queries.systems())
  const jobs = useQuery(queries.jobs())
  const couples = useQuery(queries.couples())
  const start = useStartRun()
  const read = useReadSystem()
  const test = useTestSystem()
  const page = (label: string, address: string): Entry => ({ id: address, label, act: go(address) })
  const laneEntries = (lanes.data ?? []).map((lane) => lanePlaces(lane, go, (l) => start.mutate({ lane: l.id, preview: true }), askRun))
  return [
    {
      name: 'Pages',
      entries: [
        page('Today', '/'),
        page('Systems', '/systems'),
        page('Add a system', '/systems/new'),
        page('Pair desk', '/pair-desk'),
        page('Lanes', '/lanes'),
        page('New lane', '/lanes?tab=new'),
        page('What is synced', '/synced'),
        page('Timetable', '/timetable'),
        page('New job', '/timetable/new'),
        page('Runs', '/runs'),
        page('What was written', '/written'),
        page('Mismatches', '/mismatches'),
        page('Exposure', '/exposure'),
        page('Proof of step', '/proof'),
        page('Settings', '/settings'),
        page('What the words mean', '/help'),
        { id: 'colours', label: 'Light or dark', act: toggleColorScheme },
        ...(couples.data ?? []).map((c) => page(`Pair ${c.other.name}: ${c.hubLabel} with ${c.otherLabel}`, `/pair-desk/${c.id}`)),
      ],
    },
    { name: 'Jobs', entries: (jobs.data ?? []).map((j) => page(`Job: ${j.document.name}`, `/timetable/${j.id}`)) },
    { name: 'Lanes', entries: laneEntries.flatMap((l) => l.steps) },
    { name: 'Do', entries: laneEntries.flatMap((l) => l.acts) },
    {
      name: 'Systems',
      entries: (systems.data ?? []).flatMap((s) => [
        { ...page(s.name, `/systems/${s.id}`), mark: <SystemMark system={s} /> },
        page(`Fields of ${s.name}`, `/systems/${s.id}?tab=fields`),
        page(`Connection and secret of ${s.name}`, `/systems/${s.id}?tab=connection`),
        { id: `${s.id}-test`, label: `Test ${s.name}`, act: () => test.mutate(s.id) },
        { id: `${s.id}-read`, label: `Read ${s.name}`, act: () => read.mutate({ system: s.id, full: false }) },
      ]),
    },
    {
      name: 'Words',
      entries: Object.entries(words).map(([word, meaning]) => ({
        id: `word-${word}`,
        label: `What “${word}” means`,
        more: meaning,
        act: go(`/help#${word.replace(/ /g, '-')}`),
      })),
    },
  ]
}

function lanePlaces(lane: LaneSummary, go: Go, preview: (lane: LaneSummary) => void, run: (lane: LaneSummary) => void) {
  const to = `${lane.name} to ${lane.target.name}`
  const more = `from ${lane.source.name}`
  const mark = <SystemMark system={lane.target} />
  return {
    steps: lane.work.steps.map(
      (s): Entry => ({
        id: `${lane.id}-${s.key}`,
        label: `${to}: ${s.label.toLowerCase()}`,
        more,
        mark,
        act: go(`/lanes/${lane.id}/${s.key}`),
      }),
    ),
    acts: [
      { id: `${lane.id}-see`, label: `Preview ${to} now`, more, mark, act: () => preview(lane) },
      { id: `${lane.id}-run`, label: `Run ${to} now`, more, mark, act: () => run(lane) },
    ] as Entry[],
  }
}
