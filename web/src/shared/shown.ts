/** A stored value as a person reads it: a list without its brackets. */
export function shown(value: string | null | undefined) {
  if (value === null || value === undefined) return '–'
  if (!value.startsWith('[')) return value
  try {
    const list: unknown = JSON.parse(value)
    return Array.isArray(list) ? list.join(' · ') : value
  } catch {
    return value
  }
}

/** A long text from where it begins to differ from another, so that the difference is in sight. */
export function apart(value: string | null | undefined, other: string | null | undefined) {
  const text = shown(value)
  const beside = shown(other)
  if (text === beside) return text
  let same = 0
  while (same < text.length && same < beside.length && text[same] === beside[same]) same++
  // From the beginning of the word in which they part.
  const from = text.lastIndexOf(' ', same) - 8
  return from > 16 ? `…${text.slice(text.indexOf(' ', from) + 1)}` : text
}
