import { useQueryClient } from '@tanstack/react-query'
import { api, type Schemas, take } from '../../shared/api'
import { queries, useRenew } from '../../shared/queries'

export type Settings = Schemas['WorkspaceSettings']

const asked = queries.workspace()

/** What the machine at which somebody sits says of itself, to begin with. */
export const blank = (): Settings => ({
  name: '',
  timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  currency: null,
  numbers: 'point',
  dates: 'dayFirst',
  firstDay: 'monday',
  country: null,
  hubId: null,
  person: '',
  people: [{ name: '', mail: null }],
})

/** With the first person at the screen, who is the only one yet. */
export const withPerson = (settings: Settings, name: string): Settings => ({
  ...settings,
  person: name,
  people: settings.people.map((p, i) => (i === 0 ? { ...p, name } : p)),
})

/** Of several people one is always at the screen: who is taken out cannot be. */
export function withPeople(settings: Settings, people: Settings['people']): Settings {
  const there = people.some((p) => p.name === settings.person)
  return { ...settings, people, person: there ? settings.person : (people[0]?.name ?? '') }
}

/** Keeps settings, and gives them back as they were understood. */
export function useKeepWorkspace() {
  const client = useQueryClient()
  const renew = useRenew()
  return async (settings: Settings) => {
    await take(api.PUT('/api/workspace', { body: settings }))
    const kept = await client.fetchQuery({ ...asked, staleTime: 0 })
    void renew()
    return kept.settings ?? settings
  }
}
