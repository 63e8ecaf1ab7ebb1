/** Codes as lines of a table: what one side says, and what the other does. */
export const codesText = (codes: Record<string, string>) =>
  Object.entries(codes)
    .map(([from, to]) => `${from}\t${to}`)
    .join('\n')

/** Reads codes as they are typed, or pasted from a spreadsheet: two columns apart by a tab, a semicolon or an equals sign. */
export const codesOf = (text: string): Record<string, string> =>
  Object.fromEntries(
    text
      .split('\n')
      .map((line) => line.split(/\t|;|=/).map((cell) => cell.trim()))
      .filter(([from, to]) => from && to)
      .map(([from, to]) => [from as string, to as string]),
  )
