import { useQuery } from '@tanstack/react-query'
import { queries } from './queries'

const here = 'narbit.here'
const before = 'narbit.before'
const away = 4 * 3_600_000

/** When this browser was last here before it was away for some hours; null: it never was away so long. */
function wasHere(): string | null {
  const last = localStorage.getItem(here)
  if (last && Date.now() - Date.parse(last) > away) localStorage.setItem(before, last)
  localStorage.setItem(here, new Date().toISOString())
  return localStorage.getItem(before)
}

const since = wasHere() ?? undefined
setInterval(() => localStorage.setItem(here, new Date().toISOString()), 60_000)

/** Whether what is told is told since somebody was here last. */
export const toldSinceHere = since !== undefined

/** What a person sees first. */
export const useToday = () => useQuery(queries.today(since))
