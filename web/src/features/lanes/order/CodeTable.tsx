import { Textarea, TextInput } from '@mantine/core'
import { type ReactNode, useState } from 'react'
import { plural } from '../../../shared/format'
import { codesOf, codesText } from './codes'

/** A word of a system's, and how many orders have it where that is counted. */
type Met = { word: string; count?: number }

/** The store's words and what each stands for: those that its orders have, and those that were given a meaning before. */
export function CodeTable<V extends string>(props: {
  label: string
  met: Met[]
  codes: Record<string, V>
  set: (codes: Record<string, V>) => void
  /** How one meaning is chosen; undefined is none. */
  choose: (word: string, meaning: V | undefined, set: (meaning: V | undefined) => void) => ReactNode
}) {
  const { met, codes } = props
  const words = [...met.map((m) => m.word), ...Object.keys(codes).filter((w) => met.every((m) => m.word !== w))]
  const counts = met.some((m) => m.count !== undefined)
  const set = (word: string) => (meaning: V | undefined) => {
    const { [word]: _, ...others } = codes
    props.set(meaning === undefined ? others : { ...codes, [word]: meaning })
  }
  return (
    <table className="plain-table codes" aria-label={props.label}>
      <tbody>
        {words.map((w) => (
          <tr key={w}>
            <td>{w}</td>
            <td className="num dim">{counts && plural(met.find((m) => m.word === w)?.count ?? 0, 'order')}</td>
            <td>{props.choose(w, codes[w], set(w))}</td>
          </tr>
        ))}
        {words.length === 0 && (
          <tr>
            <td className="dim" colSpan={3}>
              No order has been read that says anything of it.
            </td>
          </tr>
        )}
      </tbody>
    </table>
  )
}

/** A meaning that is typed. */
export const typedCode =
  (what: string, without = 'held without one') =>
  (word: string, meaning: string | undefined, set: (m: string | undefined) => void) => (
    <TextInput
      aria-label={`${what} for ${word}`}
      placeholder={without}
      size="xs"
      value={meaning ?? ''}
      onChange={(e) => set(e.currentTarget.value || undefined)}
    />
  )

/** Codes as lines of two columns, so that a spreadsheet's can be pasted. */
export function PastedCodes(props: { label: string; codes: Record<string, string>; set: (codes: Record<string, string>) => void }) {
  // What is typed stays as it is typed; only what is meant by it goes into the rule.
  const [typed, setTyped] = useState<string | null>(null)
  return (
    <Textarea
      aria-label={props.label}
      description={props.label}
      autosize
      minRows={1}
      maxRows={8}
      value={typed ?? codesText(props.codes)}
      onChange={(e) => {
        setTyped(e.currentTarget.value)
        props.set(codesOf(e.currentTarget.value))
      }}
      onBlur={() => setTyped(null)}
    />
  )
}
