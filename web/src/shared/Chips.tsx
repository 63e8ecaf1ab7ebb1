import { Tooltip } from '@mantine/core'
import { count } from './format'
import { type Word, words } from './words'

const asked = { hover: true, focus: true, touch: false }

/** Filters with what each would show; the count is the way to the records. */
export function Chips<K extends string>(props: {
  label: string
  chosen: K
  choose: (key: K) => void
  /** A word of the house that a chip is about is explained on it. */
  chips: { key: K; text: string; count?: number; always?: boolean; word?: Word }[]
  slim?: boolean
}) {
  return (
    <fieldset className="row wrap" style={{ border: 0, margin: 0, padding: 0, gap: 8 }} aria-label={props.label}>
      {props.chips
        .filter((c) => (c.count ?? 0) > 0 || c.always || c.key === props.chosen)
        .map((c) => (
          <Tooltip
            key={c.key}
            label={c.word ? words[c.word] : ''}
            disabled={!c.word}
            multiline
            w={280}
            withArrow
            openDelay={400}
            events={asked}
          >
            <button
              type="button"
              className={props.slim ? 'chip slim' : 'chip'}
              aria-pressed={props.chosen === c.key}
              onClick={() => props.choose(c.key)}
            >
              {c.text} {c.count !== undefined && count(c.count)}
            </button>
          </Tooltip>
        ))}
    </fieldset>
  )
}
