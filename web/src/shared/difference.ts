import { shown } from './shown'

/** Two texts taken apart: what they share before, where they differ, and what they share after. */
export type Difference = { lead: string; one: string; other: string; tail: string }

const word = /\s/

/** Where two texts differ, whole words at a time, so that what differs can be marked in both. */
export function difference(one: string | null | undefined, other: string | null | undefined): Difference {
  const [a, b] = [shown(one), shown(other)]
  if (a === b) return { lead: a, one: '', other: '', tail: '' }
  let from = 0
  while (from < a.length && from < b.length && a[from] === b[from]) from++
  // Back to the beginning of the word in which they part.
  while (from > 0 && !word.test(a[from - 1] as string)) from--
  let end = 0
  while (end < a.length - from && end < b.length - from && a[a.length - 1 - end] === b[b.length - 1 - end]) end++
  while (end > 0 && !word.test(a[a.length - end] as string)) end--
  return {
    lead: a.slice(0, from),
    one: a.slice(from, a.length - end),
    other: b.slice(from, b.length - end),
    tail: a.slice(a.length - end),
  }
}

/** What is shared before a difference, cut so that the difference is in sight. */
export const shortLead = (lead: string) => {
  if (lead.length <= 18) return lead
  const from = lead.lastIndexOf(' ', lead.length - 12)
  return `…${lead.slice(from + 1)}`
}
